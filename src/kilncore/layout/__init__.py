"""Where the items of a piece lie: places, boxes and frames. Nothing is drawn here."""
