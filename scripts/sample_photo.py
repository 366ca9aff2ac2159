"""Draws the sample side photo: a made-up bike against a boat-shed wall, to scale. Called by scripts/sample_photo."""

import math
from pathlib import Path

from playwright.sync_api import sync_playwright
from screenshots import CHROMIUM

from lone_pike.core.chain.stops import COG, GUIDE, TENSION
from lone_pike.core.count.sizing import size_at
from lone_pike.drawing.scene.chain import Loop, chain_shapes, loop_of, rivets
from lone_pike.drawing.scene.wheel import outline, wheels_of
from lone_pike.drawing.svg import circles
from lone_pike.formats.files.bike_file import bike_from_document

OUT = Path("src/lone_pike/demo/sample_photo.jpg")
WIDTH_PX, HEIGHT_PX, PX_PER_MM = 1600, 1067, 1.55
CRANK_PX = (1120.0, 560.0)
RULER_MM, RULER_AT_MM = 300, (-330.0, -262.0)
TRUE = {
    "lone_pike": 1,
    "name": "Grebe",
    "rings": [38],
    "cogs": [11, 13, 15, 18, 21, 24, 28, 32],
    "axle_mm": [-437.0, 58.0],
    "take_up": {"type": "derailleur", "cage_mm": 66.0, "b_gap_mm": 7.5, "lean_deg": 14.0},
}
LINKS = 110
WHEEL_INKS = ["#34383a", "#7d8487", "#2c5a63", "#2c5a63"]
INKS = {
    "plate-outer": ("#5d6265", "#2b2e30", 7),
    "plate-inner": ("#8b9194", "#3d4143", 7),
    "plate-joiner": ("#a39774", "#3d4143", 7),
}


def tube(start: tuple[float, float], end: tuple[float, float], width_mm: float, ink: str) -> str:
    """A round tube with a light along it."""
    x1, y1, x2, y2 = start[0], -start[1], end[0], -end[1]
    line = f'x1="{x1}" y1="{y1}" x2="{x2}" y2="{y2}" stroke-linecap="round"'
    return (
        f'<line {line} stroke="#1d2a2e" stroke-width="{width_mm + 2}"/><line {line} stroke="{ink}"'
        f' stroke-width="{width_mm}"/><line {line} stroke="#fff" stroke-opacity=".28" stroke-width="{width_mm / 5}"'
        f' transform="translate(0 {-width_mm / 5})"/>'
    )


def rear_wheel(x: float, y: float) -> str:
    """Tyre, rim, spokes and hub."""
    spokes = "".join(
        f'<line x1="{x + 22 * math.cos(a + 1.2)}" y1="{y + 22 * math.sin(a + 1.2)}" x2="{x + 292 * math.cos(a)}"'
        f' y2="{y + 292 * math.sin(a)}" stroke="#77807f" stroke-width="1.6"/>'
        for a in (2 * math.pi * i / 32 for i in range(32))
    )
    ring = f'<circle cx="{x}" cy="{y}" fill="none"'
    return (
        f'{ring} r="330" stroke="#23282a" stroke-width="46"/>'
        f'{ring} r="300" stroke="#9ea7a6" stroke-width="18"/>{spokes}'
        f'<circle cx="{x}" cy="{y}" r="26" fill="#4d5556" stroke="#222" stroke-width="2"/>'
    )


def ruler() -> str:
    """A steel rule of 300 mm with its ends exactly there."""
    x, y = RULER_AT_MM[0], -RULER_AT_MM[1]
    ticks = "".join(
        f'<line x1="{x + mm}" y1="{y}" x2="{x + mm}" y2="{y + (14 if mm % 50 == 0 else 9 if mm % 10 == 0 else 5)}"'
        ' stroke="#333" stroke-width="1"/>'
        for mm in range(0, RULER_MM + 1, 5)
    )
    numbers = "".join(
        f'<text x="{x + mm + 3}" y="{y + 25}" font-size="12" font-family="sans-serif">{mm}</text>'
        for mm in range(0, RULER_MM, 50)
    )
    return f'<rect x="{x}" y="{y}" width="{RULER_MM}" height="30" fill="#d7d9d2" stroke="#444"/>{ticks}{numbers}'


def drivetrain(loop: Loop) -> str:
    """Wheels, cage, chain and pulley bolts of a traced loop."""
    points = rivets(loop, LINKS, len(loop.names))
    shapes = chain_shapes(points, joiner_at=41)
    guide, tension = (loop.centres_mm[loop.names.index(name)] for name in (GUIDE, TENSION))
    wheels = "".join(
        f'<path d="{outline(round(teeth))}" fill="{ink}" stroke="#26292a" stroke-width="9"'
        f' transform="translate({wheel.x} {wheel.y}) rotate({wheel.turn_deg}) scale(.1)"/>'
        for wheel, teeth, ink in zip(wheels_of(loop, points), loop.teeth, WHEEL_INKS, strict=True)
    )
    plates = "".join(
        f'<path transform="scale(.1)" d="{getattr(shapes, name.removeprefix("plate-"))}" fill="{fill}" stroke="{edge}"'
        f' stroke-width="{width}"/>'
        for name, (fill, edge, width) in INKS.items()
    )
    bolts = "".join(circles(place, [4.5]) for place in (guide, tension))
    return (
        f'{wheels}<path d="M{guide[0]} {-guide[1]}L{tension[0]} {-tension[1]}" stroke="#1d2224" stroke-width="21"'
        f' stroke-linecap="round" opacity=".82"/>{plates}'
        f'<path transform="scale(.1)" d="{bolts}" fill="#c9cdca" stroke="#222" stroke-width="12"/>'
    )


def true_loop() -> Loop:
    """The loop as it runs in the photo."""
    return loop_of(size_at(bike_from_document(TRUE), 0.0).resting_path(38, 32, LINKS))


def scene() -> str:
    """The whole picture as SVG."""
    loop = true_loop()
    axle, guide = (loop.centres_mm[loop.names.index(name)] for name in (COG, GUIDE))
    seat, head, pedal = (-150.0, 470.0), (520.0, 420.0), (70.0, -155.0)
    paint = "#3f7f6a"
    return f"""<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH_PX}" height="{HEIGHT_PX}">
<defs><linearGradient id="wall" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#cdbfa6"/>
<stop offset="1" stop-color="#8f8470"/></linearGradient><filter id="grain"><feTurbulence baseFrequency=".8"
numOctaves="2" seed="7"/><feColorMatrix values="0 0 0 0 0  0 0 0 0 0  0 0 0 0 0  0 0 0 .22 0"/></filter>
<filter id="soft"><feGaussianBlur stdDeviation="9"/></filter></defs>
<rect width="100%" height="100%" fill="url(#wall)"/>
{"".join(f'<rect x="0" y="{y}" width="100%" height="4" fill="#5d5344" opacity=".55"/>' for y in range(90, 1000, 152))}
<rect y="1000" width="100%" height="70" fill="#5f5b54"/>
<g transform="translate({CRANK_PX[0]} {CRANK_PX[1]}) scale({PX_PER_MM})">
<ellipse cx="{axle[0]}" cy="296" rx="330" ry="10" fill="#000" opacity=".4" filter="url(#soft)"/>
{rear_wheel(axle[0], -axle[1])}
{tube(seat, axle, 15, paint)}{tube((0, 0), head, 36, paint)}
{tube((0, 0), seat, 30, paint)}{tube((0, 0), axle, 19, paint)}
{ruler()}
{drivetrain(loop)}
<path d="M{axle[0]} {-axle[1]}L{guide[0]} {-guide[1]}" stroke="#26292a" stroke-width="13" stroke-linecap="round"/>
<circle cx="{guide[0]}" cy="{-guide[1]}" r="5" fill="#c9cdca" stroke="#222"/>
<circle cx="{axle[0]}" cy="{-axle[1]}" r="9" fill="#c4c9c6" stroke="#222" stroke-width="2"/>
<circle cx="{axle[0]}" cy="{-axle[1]}" r="2.6" fill="#222"/>
<circle r="46" fill="#2b2f31" stroke="#111"/>{tube((0, 0), pedal, 24, "#43494b")}
<rect x="{pedal[0] - 44}" y="{-pedal[1] - 9}" width="88" height="18" rx="5" fill="#202426"/>
<circle r="13" fill="#c4c9c6" stroke="#222" stroke-width="2"/><circle r="3" fill="#222"/>
</g><rect width="100%" height="100%" filter="url(#grain)"/></svg>"""


def true_px() -> dict[str, tuple[float, float]]:
    """Where in the photo the parts really are, px."""
    loop = true_loop()
    at = {name: (float(x), float(y)) for name, (x, y) in zip(loop.names, loop.centres_mm, strict=True)}
    ends = {"scale_from": RULER_AT_MM, "scale_to": (RULER_AT_MM[0] + RULER_MM, RULER_AT_MM[1])}
    return {name: (CRANK_PX[0] + x * PX_PER_MM, CRANK_PX[1] - y * PX_PER_MM) for name, (x, y) in (at | ends).items()}


def main() -> None:
    """Writes the photo, and says where in it everything is, so that marks can be checked against it."""
    with sync_playwright() as playwright:
        page = playwright.chromium.launch(**CHROMIUM).new_page(viewport={"width": WIDTH_PX, "height": HEIGHT_PX})
        page.set_content(f"<body style='margin:0'>{scene()}</body>")
        page.screenshot(path=OUT, type="jpeg", quality=72)
    print(OUT, OUT.stat().st_size, {name: [round(value, 1) for value in place] for name, place in true_px().items()})


if __name__ == "__main__":
    main()
