"""The handbook and the documents: they build, their commands run, what they name is there."""

import json
import re
import shlex
import subprocess
import sys
from html.parser import HTMLParser
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from tests.launch.whole import told

from kunstflug.web.app import create_app

ROOT = Path(__file__).parents[2]
HANDBOOK = ROOT / "docs" / "handbook"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    """The handbook as the setup makes it; a link that leads nowhere is an error."""
    out = tmp_path_factory.mktemp("handbook")
    words = [
        sys.executable,
        "-m",
        "mkdocs",
        "build",
        "-q",
        "-s",
        "-f",
        str(ROOT / "docs" / "mkdocs.yml"),
        "-d",
        str(out),
    ]
    done = subprocess.run(words, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    return out


class Seen(HTMLParser):
    """What a page refers to, and whether it has a script."""

    def __init__(self):
        super().__init__()
        self.refers, self.tags = [], []

    def handle_starttag(self, tag, attrs):
        self.tags.append(tag)
        self.refers += [value for key, value in attrs if key in ("href", "src") and value]


def test_it_builds_without_a_script_and_refers_to_nothing_elsewhere(built):
    pages = sorted(built.rglob("*.html"))
    assert len(pages) >= 7
    for path in pages:
        seen = Seen()
        seen.feed(path.read_text())
        assert "script" not in seen.tags
        for reference in seen.refers:
            assert "//" not in reference, (path, reference)
            if not reference.startswith(("#", "/")):
                target = (path.parent / reference.partition("#")[0]).resolve()
                assert target.exists(), (path, reference)


def test_its_commands_run(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    commands = [
        line
        for page in HANDBOOK.glob("*.md")
        for block in re.findall(r"```console\n(.*?)```", page.read_text(), re.S)
        for line in block.splitlines()
    ]
    assert len(commands) >= 4
    for line in commands:
        program, *words = shlex.split(line)
        assert program == "kunstflug"
        kept = words[words.index(">") + 1] if ">" in words else None
        done = told(*words[: words.index(">")] if kept else words)
        assert done.returncode == 0, (line, done.stderr)
        if kept:
            (tmp_path / kept).write_text(done.stdout)
        if words[0] != "--version":
            assert json.loads(done.stdout), line


def test_the_program_serves_it_under_its_own_policy(store, built, tmp_path):
    with TestClient(create_app(store, tmp_path / "none", handbook=built), base_url="http://127.0.0.1:8417") as client:
        start = client.get("/handbook/")
        assert start.status_code == 200
        assert "Pull a knob" in start.text
        assert "script-src" not in start.headers["content-security-policy"]  # nothing beyond one's own
        assert client.get("/handbook/recipes/").status_code == 200
        assert client.get("/handbook/match.png").headers["content-type"] == "image/png"
        assert client.get("/handbook/../../pyproject.toml").status_code == 404


def test_what_security_names_is_there():
    text = (ROOT / "docs" / "security.md").read_text()
    files = {path.name: path.read_text() for path in (ROOT / "tests").rglob("test_*.py")}
    named = re.findall(r"`(test_\w+\.py)(?:::(test_\w+))?`", text)
    assert len(named) > 25
    for file, test in named:
        assert file in files, file
        assert not test or f"def {test}(" in files[file], (file, test)


@pytest.mark.parametrize("page", [*sorted((ROOT / "docs").glob("*.md")), ROOT / "README.md"], ids=lambda p: p.name)
def test_links_between_documents_lead_somewhere(page):
    for reference in re.findall(r"\]\(([^)#\s]+)", page.read_text()):
        if "://" not in reference:
            assert (page.parent / reference).exists(), reference
