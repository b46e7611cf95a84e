"""Every maker at 2048 x 2048 px with all its maps, and its trial of 512 px; one of them beside
NumPy.
"""

import numpy as np

from bench.measure import median, ms, say
from kilncore.textures import makers

SIDE, TRIAL = 2048, 512


def report() -> None:
    """Print them all."""
    for name in makers.MAKERS:
        whole = median(lambda name=name: makers.maps(name, SIDE, SIDE, 1), 3)
        trial = median(lambda name=name: makers.maps(name, TRIAL, TRIAL, 1), 5)
        say(f"make {name}, {SIDE} x {SIDE}", ms(whole), f"its trial of {TRIAL} px {ms(trial)}")
    plain, ours = median(_grain, 3), median(lambda: makers.make("grain", SIDE, SIDE, 1), 3)
    say("the same grain by plain NumPy", ms(plain), f"{plain / ours:.1f} x ours")


def _grain() -> np.ndarray:
    """Fine grain as `makers/grain.py` has it: three fields of filtered white noise."""
    rng = np.random.default_rng(1)
    f = np.hypot(np.fft.rfftfreq(SIDE)[None], np.fft.fftfreq(SIDE)[:, None])
    f[0, 0] = 1e-9

    def filtered(response: np.ndarray) -> np.ndarray:
        white = rng.standard_normal((SIDE, SIDE))
        field = np.fft.irfft2(np.fft.rfft2(white) * response)
        return field / field.std()

    fine = filtered(np.exp(-0.5 * (np.log(f * 3.0) / 0.5) ** 2))
    gathered = filtered(np.exp(-0.5 * (np.log(f * 12.0) / 0.7) ** 2))
    coarse = filtered((f**2 + (1 / 38) ** 2) ** -0.5)
    field = fine * (1 + 0.19 * np.tanh(gathered)) + 0.35 * (0.45 * gathered + 0.25 * coarse)
    specks = np.tanh(1.3 * field / field.std())
    return np.rint(np.clip(0.5 + 0.15 * specks / np.tanh(1.8), 0, 1) * 255).astype(np.uint8)


if __name__ == "__main__":
    report()
