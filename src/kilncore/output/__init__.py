"""Files of a piece: what is drawn (`contents`) and how bytes are packed (`formats`), each a list;
pictures for the screen.
"""
