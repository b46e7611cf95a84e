"""Pictures as arrays and as registers of a program: layouts, formats, colour, light, reducing."""
