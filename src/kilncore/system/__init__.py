"""The machine: what it has to give, children with limits, files written whole."""
