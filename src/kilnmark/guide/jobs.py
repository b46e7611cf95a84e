"""The jobs that the guide shows, each a page. A job more is an entry here, its pictures a shot in
`tools/screenshots.py`, and what it begins with a function in `beginning.py`.
"""

from collections.abc import Callable
from dataclasses import dataclass

from django.templatetags.static import static

from kilnmark.guide import beginning


@dataclass(frozen=True)
class Stage:
    """One thing to do. picture : the name of a file in static/guide, '' of none; alt : what it
    shows.
    """

    title: str
    words: str
    picture: str = ""
    alt: str = ""

    @property
    def address(self) -> str:
        """Of its picture."""
        return static(f"guide/{self.picture}.jpg")


@dataclass(frozen=True)
class Job:
    """begin : makes for an owner what the job is tried on, and says where it lies, as (the name of
    a page, its arguments).
    """

    slug: str
    title: str
    sentence: str
    button: str
    stages: tuple[Stage, ...]
    begin: Callable

    @property
    def cover(self) -> str:
        """The address of the picture that stands for it: of its middle."""
        shown = [stage for stage in self.stages if stage.picture]
        return shown[len(shown) // 2].address


JOBS = (
    Job(
        "wear-a-logo",
        "Wear a logo",
        "From a clean file to three directions, and one of them fired.",
        "Try it on a badge",
        (
            Stage(
                "Drop the file on the page of pieces",
                "A drawing, or a picture on a plain background, becomes a mark on stock. The "
                "background is knocked out; its sheet says so, and brings it back.",
            ),
            Stage(
                "Put three looks in places",
                "Arrows move between the looks; 1, 2 and 3 put one in that place.",
                "directions-looks",
                "The looks of a badge as cards, three of them in places 1, 2 and 3",
            ),
            Stage(
                "Look at them side by side",
                "V shows them large, with one zoom for all. Drag a step to another direction to "
                "mix them. Go on with this makes one of them the piece.",
                "directions",
                "Three directions of a badge side by side",
            ),
            Stage(
                "Say how much is taken away",
                "Choose Wear on the strip. Its aim takes the share that you say; the readings tell "
                "the thinnest stroke that is left and the largest hole.",
                "bench-wear",
                "A wear with its aim and its readings",
            ),
            Stage(
                "Fire it",
                "The file has every pixel of the piece: with its ground, or transparent around it.",
                "fire",
                "The fire dialog with a file that is ready",
            ),
        ),
        beginning.logo,
    ),
    Job(
        "lettering-in-a-photo",
        "Set lettering into a photo",
        "Words that lie in the surface: bent by it, as soft and as grainy as it is.",
        "Try it on planks",
        (
            Stage(
                "Begin with the photo",
                "Drop it on the page of pieces. It becomes the ground, at its own pixels.",
            ),
            Stage(
                "Set the words",
                "Mark, on the row of tabs. A double-click on the piece edits them later; their "
                "wear stays with the letters that stay.",
                "bench-words",
                "Words that are being edited on a ticket",
            ),
            Stage(
                "Let them follow the surface",
                "Follow surface bends the edges by what lies beneath. The readings warn where a "
                "mark would tear.",
                "bench-follow",
                "A sign on planks that follows them",
            ),
            Stage(
                "Let the surface through",
                "Surface through shows its darkest grooves in the paint. Then match tones, "
                "softness and grain to the surface.",
                "bench-through",
                "Planks that show through the paint",
            ),
            Stage(
                "Compare",
                "W draws a wipe line, B shows the bare art, N takes the step off while it is held.",
                "bench-looking",
                "A wipe line and the linen tester",
            ),
        ),
        beginning.lettering,
    ),
    Job(
        "go-over-it-by-hand",
        "Go over it by hand",
        "Scrape its edges, scratch it to the metal, draw on it: every stroke can be taken back.",
        "Try it on a hull",
        (
            Stage(
                "Touch up where it lies",
                "On the piece, By hand, on the strip of a mark. Choose a tip and draw: the mark is "
                "hidden under your hand, and never erased. S held and dragged sizes the tip.",
                "bench-by-hand",
                "A number on a hull with a stroke of rag over it",
            ),
            Stage(
                "Go along its edges",
                "Scrape edges lays strokes along the outline: all of it, a side, a corner. Sticks "
                "to the edge does the same for what you draw.",
            ),
            Stage(
                "Lay something on",
                "Step, then Dabs: strokes add a colour or a texture, darken or lighten. Scratches "
                "in grey are metal that shows.",
                "guide-dabs",
                "Scratches of grey metal over a painted hull",
            ),
            Stage(
                "Draw a mark",
                "Mark, then Drawn by hand. Freely, or as curves by points; they thin out towards "
                "their ends. Change one takes hold of a stroke that is there.",
                "bench-drawn",
                "Chalk marks on a hull, one of them held by its points",
            ),
        ),
        beginning.by_hand,
    ),
    Job(
        "eight-icons",
        "Eight icons",
        "A set worn alike, and no two of them worn the same.",
        "Try it on eight icons",
        (
            Stage(
                "Bring them in together",
                "Drop all eight files on the bench. Shift and a click choose several; their sheet "
                "aligns and spreads them, and G makes them a group.",
            ),
            Stage(
                "Wear the group, or each",
                "Steps on the group's tab treat all of them as one print. Steps on an icon's tab "
                "are its own; Copy to brings them to another.",
                "guide-icons",
                "Eight icons on a night sky, one of them with its wear",
            ),
            Stage(
                "Share a mask",
                "Copy to, Share with: one mask for several icons. What is changed of it once is "
                "seen in all; Make it its own lets one go.",
                "guide-shared",
                "The menu that shares a step with other marks",
            ),
            Stage(
                "Fire them without the ground",
                "Transparent around the icons, for wherever they go.",
            ),
        ),
        beginning.icons,
    ),
    Job(
        "texture-from-a-photo",
        "A texture from a photo",
        "From a raw scan to a mask that is black and white where it should be.",
        "Try it on a raw scan",
        (
            Stage(
                "Bring the scan to the shelf",
                "Drop it there. Its facts say what it is good for, and what to mend.",
                "shelf",
                "Textures on the shelf",
            ),
            Stage(
                "Even out its light",
                "Prepare, then Flatten: what is lit from one side is even. Clean paints out "
                "stains.",
            ),
            Stage(
                "Make it near black and white",
                "Say which share is to be black. The trial beside it shows the mask on your own "
                "words.",
                "prep",
                "A scan being prepared, with its trial",
            ),
            Stage(
                "Use it",
                "On the bench, a wear's texture. The same scan can have several preps, and the "
                "scan itself stays as it came.",
                "makers",
                "Or make a texture from nothing",
            ),
        ),
        beginning.scan,
    ),
)

BY_SLUG = {job.slug: job for job in JOBS}
