"""PDFs from outside: told, and drawn page by page, in limited children."""
