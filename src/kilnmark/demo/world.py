"""The demo's pieces, as documents."""

from kilnmark.demo.drawn import lamp_in_ink, mailbag
from kilnmark.demo.filled import foil_card, lit_card, round_stamp, tonight
from kilnmark.demo.labels import luggage_label, supper_ticket
from kilnmark.demo.perspectives import quay_at_night
from kilnmark.demo.printed import icon_set, poster, ticket
from kilnmark.demo.signs import crate, deck_sign, quay_stencil
from kilnmark.demo.surfaces import boat_shed, ferry_stencil

PIECES = [
    foil_card,
    lit_card,
    round_stamp,
    tonight,
    quay_at_night,
    ferry_stencil,
    boat_shed,
    luggage_label,
    supper_ticket,
    lamp_in_ink,
    mailbag,
    icon_set,
    crate,
    ticket,
    quay_stencil,
    poster,
    deck_sign,
]  # the newest is shown first
