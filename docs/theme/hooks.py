"""The handbook's pictures are those that the tests take of the demo."""

from pathlib import Path
from typing import Any

from mkdocs.structure.files import File, Files

PICTURES = Path(__file__).parents[1] / "screenshots"


def on_files(files: Files, config: Any) -> Files:
    """Adds the pictures beside the pages."""
    for picture in sorted(PICTURES.glob("*.png")):
        files.append(File.generated(config, picture.name, abs_src_path=str(picture)))
    return files
