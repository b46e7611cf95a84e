"""What makers are built of: noise, cells, strewn marks, relief and light, weathering, tones.

Lengths are px of a texture at 300 ppi; each part turns them into the px that are drawn, so that the
same settings give the same material, finer or coarser, at another resolution.
"""
