"""How one picture meets another: blend modes and compositing."""
