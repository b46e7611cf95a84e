"""What docs/engine.md offers to callers: each function says all of itself, and the list is made of
them.
"""

import inspect
import re

import pytest
from tools.offered import GROUPS, PAGE, made, offered, section

NAMES = [name for names in GROUPS.values() for name in names]


@pytest.mark.parametrize("name", NAMES)
def test_a_function_says_its_parameters_and_what_comes_back(name):
    thing, text = offered(name), inspect.getdoc(offered(name))
    heads = [line for line in section(text, "Parameters") if not line.startswith(" ")]
    told = {one.strip("* ") for head in heads for one in head.split(" : ")[0].split(",")}
    assert told == set(inspect.signature(thing).parameters)
    for head in heads:
        assert re.fullmatch(r"[\w*, ]+ : \S.*", head), head
    assert inspect.isclass(thing) or section(text, "Returns")


@pytest.mark.parametrize("name", NAMES)
def test_what_it_raises_is_told(name):
    """Where its own lines raise something, that is in its docstring."""
    thing = offered(name)
    raised = set(re.findall(r"raise (KilnError|UnusableFile|ValueError)", inspect.getsource(thing)))
    told = " ".join(section(inspect.getdoc(thing), "Raises"))
    assert all(one in told for one in raised)


def test_the_list_in_the_docs_is_not_stale():
    assert made() in PAGE.read_text(), "run `python -m tools.offered`"
