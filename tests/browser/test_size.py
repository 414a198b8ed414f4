"""What the first screen loads, compressed."""

import gzip
import re

import pytest

from kunstflug.web.app import DIST

pytestmark = pytest.mark.browser


def test_scripts_of_the_first_screen_are_under_250_kb():
    page = (DIST / "index.html").read_text()
    scripts = set(re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', page))
    assert scripts
    total = sum(len(gzip.compress((DIST / s.lstrip("/")).read_bytes())) for s in scripts)
    print(f"first screen: {total / 1000:.0f} kB of scripts, compressed")
    assert total < 250_000


def test_no_font_or_style_from_elsewhere():
    for file in (*DIST.glob("assets/*.css"), DIST / "index.html"):
        assert "http://" not in re.sub(r"http://www\.w3\.org/[\w/]+", "", file.read_text()), file.name
