"""Compiled code: kernels, programs and the interpreter that runs them. Raw addresses are nowhere
else.

A picture of many steps would pass through memory many times if each step drew its own. Here steps
only write down what is to be done with rows of pixels, in a `Program`; one compiled function
(`interpreter`) then runs the whole program over each stretch of a few hundred pixels, which never
leave the nearest memory in between. docs/programs.md says how to write one.
"""
