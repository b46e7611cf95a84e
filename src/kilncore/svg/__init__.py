"""SVGs from outside: read, made safe, weighed and drawn, all in limited children. Nothing here
imports the rest of the core, so that a child starts at once."""
