"""Pictures worked out a stretch of a row at a time, through all steps at once.

A picture of many steps would pass through memory many times if each step drew its own. Here steps only write down what is
to be done with rows of pixels, on a `Tape`; one compiled function (`machine`) then runs the whole tape over each stretch
of a few hundred pixels, which never leave the nearest memory in between.
"""
