"""Plain shapes as outlines: forms.py has what there is, outlined.py their rims."""
