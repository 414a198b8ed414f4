"""A sheet of a boat on one page of A4 (PDF, by reportlab), and a picture of a run (PNG, by Pillow)."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final
from xml.sax.saxutils import escape

import numpy as np
import reportlab
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import KeepInFrame, Paragraph, Spacer, Table, TableStyle

_INK, _GREY, _WATER, _PAPER, _HAIR = "#1f2933", "#5b6470", "#2c6480", "#f6f1e6", "#c9c2b2"
_FONTS: Final = Path(reportlab.__file__).parent / "fonts"  # the library ships them
_MARGIN: Final = 14 * mm
_THIN, _SPACE = "\u202f", "\u00a0"  # the font has no thin space
PICTURE: Final = (1200, 675)

Rows = Sequence[tuple[str, str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Block:
    """A heading with rows of a label and what stands beside it."""

    heading: str
    rows: Rows


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """What stands on the sheet of a boat, in words."""

    title: str
    under: str
    headline: str
    band: str
    verdict: str
    left: Sequence[Block]
    right: Sequence[Block]
    cautions: Sequence[str]
    foot: str


def write_sheet(sheet: Sheet) -> bytes:
    """The sheet as a PDF of one page; what is much is set smaller."""
    _register()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, pageCompression=1)
    canvas.setTitle(sheet.title)
    canvas.setCreator("Kunstflug")
    width, height = A4
    inner = width - 2 * _MARGIN
    y = height - _MARGIN
    head = [_words(sheet.title, 20, bold=True), Spacer(0, 2), _words(sheet.under, 9, _GREY)]
    answer = [_words(sheet.headline, 20, bold=True), Spacer(0, 2), _words(f"{sheet.band}; {sheet.verdict}", 9)]
    top = Table([[head, answer]], colWidths=[inner * 0.5, inner * 0.5])
    top.setStyle(TableStyle([*_BARE, ("LINEBELOW", (0, 0), (-1, -1), 0.8, HexColor(_INK))]))
    _, used = top.wrapOn(canvas, inner, 60 * mm)
    top.drawOn(canvas, _MARGIN, y - used)
    y -= used + 4 * mm
    cautions = KeepInFrame(inner, 40 * mm, [_words(" ".join(sheet.cautions), 8, _GREY)], mode="shrink")
    _, below = cautions.wrapOn(canvas, inner, 40 * mm)
    foot = _MARGIN + 5 * mm
    cautions.drawOn(canvas, _MARGIN, foot)
    room = y - foot - below - 4 * mm
    column = (inner - 8 * mm) / 2
    for k, blocks in enumerate((sheet.left, sheet.right)):
        frame = KeepInFrame(column, room, [part for block in blocks for part in _block(block, column)], mode="shrink")
        _, taken = frame.wrapOn(canvas, column, room)
        frame.drawOn(canvas, _MARGIN + k * (column + 8 * mm), y - taken)
    canvas.setFont("Vera", 7)
    canvas.setFillColor(HexColor(_GREY))
    canvas.drawString(_MARGIN, _MARGIN, sheet.foot)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _register() -> None:
    for name in ("Vera", "VeraBd"):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, _FONTS / f"{name}.ttf"))


_BARE: Final[list[Any]] = [
    ("LEFTPADDING", (0, 0), (-1, -1), 0),
    ("RIGHTPADDING", (0, 0), (-1, -1), 0),
    ("VALIGN", (0, 0), (-1, -1), "TOP"),
]


def _words(text: str, size: float, colour: str = _INK, *, bold: bool = False, right: bool = False) -> Paragraph:
    style = ParagraphStyle(
        "words", fontName="VeraBd" if bold else "Vera", fontSize=size, leading=size * 1.3, textColor=HexColor(colour),
        alignment=2 if right else 0,
    )  # fmt: skip
    return Paragraph(escape(text.replace(_THIN, _SPACE)), style)


def _block(block: Block, width: float) -> list[Any]:
    if not block.rows:
        return []
    rows = [[_words(name, 8, _GREY), _words(text, 8, right=True)] for name, text in block.rows]
    table = Table(rows, colWidths=[width * 0.5, width * 0.5])
    line = ("LINEBELOW", (0, 0), (-1, -1), 0.25, HexColor(_HAIR))
    padding = [("TOPPADDING", (0, 0), (-1, -1), 1.2), ("BOTTOMPADDING", (0, 0), (-1, -1), 1.8)]
    table.setStyle(TableStyle([*_BARE, line, *padding]))
    return [_words(block.heading, 9.5, _WATER, bold=True), Spacer(0, 2), table, Spacer(0, 7)]


@dataclass(frozen=True, slots=True, kw_only=True)
class RunPicture:
    """What a picture of a run shows.

    Parameters
    ----------
    time_s, speed : of the track, in the units of ``unit``.
    shape : east and north [m] where the track's shape is wanted; it may tell those who know it which pond it was.
    passes : first and last sample of each, drawn heavier.
    """

    title: str
    under: str
    headline: str
    unit: str
    time_s: np.ndarray[Any, np.dtype[np.float64]]
    speed: np.ndarray[Any, np.dtype[np.float64]]
    passes: Sequence[tuple[int, int]] = ()
    shape: np.ndarray[Any, np.dtype[np.float64]] | None = None


def write_picture(run: RunPicture) -> bytes:
    """A picture to show around: speed over time, passes heavier, and the track's shape where it is wanted."""
    width, height = PICTURE
    image = Image.new("RGB", (2 * width, 2 * height), _PAPER)
    draw = ImageDraw.Draw(image)
    _text(draw, (80, 70), run.title, 64, bold=True)
    _text(draw, (80, 160), run.under, 34, _GREY)
    _text(draw, (2 * width - 80, 70), run.headline, 96, bold=True, right=True)
    box = (160, 330, 2 * width - 80, 2 * height - 160)
    if run.shape is not None:
        box = (160, 330, 1500, 2 * height - 160)
        _shape(draw, run.shape, (1600, 330, 2 * width - 80, 2 * height - 160))
    _speeds(draw, run, box)
    _text(draw, (80, 2 * height - 80), "Kunstflug", 30, _GREY)
    out = io.BytesIO()
    image.resize(PICTURE, Image.Resampling.LANCZOS).save(out, "PNG", optimize=True)
    return out.getvalue()


def _text(
    draw: ImageDraw.ImageDraw, at: tuple[float, float], text: str, size: int, colour: str = _INK, *,
    bold: bool = False, right: bool = False,
) -> None:  # fmt: skip
    font = ImageFont.truetype(str(_FONTS / ("VeraBd.ttf" if bold else "Vera.ttf")), size)
    draw.text(at, text, colour, font=font, anchor="ra" if right else "la")


def _speeds(draw: ImageDraw.ImageDraw, run: RunPicture, box: tuple[int, int, int, int]) -> None:
    left, top, right, bottom = box
    most = max(float(np.nanmax(run.speed)) * 1.08, 1.0)
    step = next(s for s in (1, 2, 5, 10, 20, 50, 100, 200) if most / s <= 6)
    for k in range(int(most // step) + 1):
        y = bottom - (bottom - top) * k * step / most
        draw.line([(left, y), (right, y)], _HAIR, 2)
        _text(draw, (left - 20, y - 18), f"{k * step}", 30, _GREY, right=True)
    _text(draw, (left, top - 60), run.unit, 30, _GREY)
    span = max(float(run.time_s[-1] - run.time_s[0]), 1e-9)
    x = left + (right - left) * (run.time_s - run.time_s[0]) / span
    y = bottom - (bottom - top) * np.clip(run.speed, 0, most) / most
    points = [(float(a), float(b)) for a, b in zip(x, y, strict=True) if b == b]
    draw.line(points, _INK, 4, joint="curve")
    for first, last in run.passes:
        part = [(float(a), float(b)) for a, b in zip(x[first : last + 1], y[first : last + 1], strict=True)]
        if len(part) > 1:
            draw.line(part, _WATER, 10, joint="curve")


def _shape(
    draw: ImageDraw.ImageDraw, shape: np.ndarray[Any, np.dtype[np.float64]], box: tuple[int, int, int, int]
) -> None:
    left, top, right, bottom = box
    shape = shape[np.isfinite(shape).all(axis=1)]
    low, high = shape.min(axis=0), shape.max(axis=0)
    scale = min((right - left) / max(high[0] - low[0], 1e-9), (bottom - top) / max(high[1] - low[1], 1e-9))
    middle = (low + high) / 2
    points = [
        ((left + right) / 2 + scale * (e - middle[0]), (top + bottom) / 2 - scale * (n - middle[1])) for e, n in shape
    ]
    draw.line(points, _INK, 4, joint="curve")
