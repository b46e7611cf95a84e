"""What has a node's alpha, without the steps before it that change colours alone: what is solved
from outlines stays solved while colours are set.
"""

from collections.abc import Callable
from dataclasses import replace

from kilncore.engine.step_node import StepNode
from kilncore.graph.node import Node
from kilncore.steps.base import ALPHA, PLACE


def outline(node: Node, outline_of: Callable[[Node], Node]) -> Node:
    """outline_of : the same of the nodes before it, remembered."""
    if not isinstance(node, StepNode):
        return node
    inner = outline_of(node.input)
    if not {ALPHA, PLACE} & node.changed and not node.kind.spills(node.step.params):
        return inner
    alone = set(node.results) <= {"cover", "move"} or node.kind.planewise
    reads = node.landing.reads_of("own") or node.landing.reads_of("input")
    if inner is node.input or not alone or reads:
        return node
    return replace(node, input=inner)
