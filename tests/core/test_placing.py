"""Placement search against brute force, and what it finds."""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.document import load
from kilncore.engine.placing import placements
from kilncore.errors import KilnError
from kilncore.solve.placing import best, folded, scores
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png


def test_scores_against_brute_force(rng):
    heavy = ndimage.gaussian_filter(rng.random((24, 32)), 2, mode="wrap")
    weights = np.zeros((24, 32))
    weights[3:9, 4:13], weights[5:7, 6:10] = 1.0, -2.0
    found = scores(heavy, weights)
    bare = heavy - heavy.mean()
    tried = np.array(
        [
            [(weights * np.roll(bare, (-down, -across), (0, 1))).sum() for across in range(32)]
            for down in range(24)
        ]
    )
    assert np.abs(found - tried).max() < 1e-8
    top = best(heavy, [weights], 3)
    down, across = np.unravel_index(tried.argmax(), tried.shape)
    assert (top[0].down, top[0].across) == (down, across)
    for one in range(3):
        for other in range(one):
            away = [
                min(abs(a - b), size - abs(a - b))
                for a, b, size in (
                    (top[one].down, top[other].down, 24),
                    (top[one].across, top[other].across, 32),
                )
            ]
            assert max(away) > 3


def test_weights_are_folded_by_adding(rng):
    rows, columns, weights = rng.uniform(-90, 90, 500), rng.uniform(-90, 90, 500), rng.random(500)
    found = folded(rows, columns, weights, (20, 30))
    plain = np.zeros((20, 30))
    for row, column, weight in zip(rows, columns, weights, strict=True):
        plain[int(np.floor(row)) % 20, int(np.floor(column)) % 30] += weight
    assert np.allclose(found, plain) and found.sum() == pytest.approx(weights.sum())


@pytest.fixture
def blotched(store, rng):
    soft = ndimage.gaussian_filter(rng.random((600, 600)), 22, mode="wrap")
    soft = (soft - soft.min()) / np.ptp(soft)
    return {"hash": store.keep(png(np.rint(soft * 255).astype(np.uint8)))}


@pytest.mark.parametrize("turn", [0, 30])
def test_what_is_found_wears_the_edges_and_clears_the_middle(store, blotched, turn):
    wear = step("wear", texture=blotched, aim=True, share=0.15, placement={"scale": 0.7})
    words = mark(lettering("HULL", 230), 450, 210, [wear], rotation_deg=turn)
    document = piece(words, ground={"kind": "none"}, size=(900, 420))
    item = document.stack[0]
    found = placements(document, item.treatment[0].id, 5, store)
    assert len(found) == 5 and found[0][1] >= found[-1][1] > 2

    def edges(place):
        tree = document.model_dump(mode="json")
        tree["stack"][0]["treatment"][0]["params"]["placement"] = place
        left = engine.exact(load(tree), assets=store)[..., 3]
        gone = np.where(bare > 0.99, bare - left, 0)
        return gone[deep < 8].sum() / gone.sum()

    bare = engine.exact(
        piece({**words, "treatment": []}, ground={"kind": "none"}, size=(900, 420)), assets=store
    )[..., 3]
    deep = ndimage.distance_transform_edt(bare > 0.5)
    some = [edges({"x": px(71 * n), "y": px(37 * n), "scale": 0.7}) for n in range(6)]
    best_of_all = edges(found[0][0].model_dump(mode="json"))
    assert best_of_all > max(some) and best_of_all > 1.15 * np.mean(some)


def test_only_a_wear_that_is_on_is_placed(store, blotched):
    off = step("wear", on=False, texture=blotched)
    for treatment in ([off], [step("wear")], [step("soften")]):
        document = piece(mark(treatment=treatment))
        with pytest.raises(KilnError):
            placements(document, document.stack[0].treatment[0].id, 3, store)
    with pytest.raises(KilnError):
        placements(piece(mark()), "gone", 3, store)
