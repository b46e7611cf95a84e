"""Older documents: UPGRADES[n] brings the JSON tree of format n to format n + 1.

What it held within itself and is a file now, the assets keep.
"""

from kilncore.upgrades import from_1, from_2, from_3, from_4, from_5, from_6, from_7

UPGRADES = {
    1: from_1.upgraded,
    2: from_2.upgraded,
    3: from_3.upgraded,
    4: from_4.upgraded,
    5: from_5.upgraded,
    6: from_6.upgraded,
    7: from_7.upgraded,
}
