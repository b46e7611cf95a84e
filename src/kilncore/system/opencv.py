"""OpenCV, with one thread of its own: the engine's tiles are what runs at once. It reads no files
here.
"""

import cv2

cv2.setNumThreads(1)

__all__ = ["cv2"]
