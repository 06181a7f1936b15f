"""Modules of eight corner marks as reference libraries draw and read them.

    pip install opencv-python-headless==4.10.0.84 pupil-apriltags==1.0.4.post11 numpy
    python make_reference.py > tag36h11.csv

OpenCV's aruco module carries the AprilTag family 36h11 (DICT_APRILTAG_36h11), turned by half against
the AprilTag library itself, which pupil-apriltags wraps: what is written here is what that library
reads as upright.
"""

import cv2
import numpy as np
from pupil_apriltags import Detector

family = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_APRILTAG_36h11)
detector = Detector(families="tag36h11")
print("tag,row,modules")
for tag in range(8):
    modules = cv2.aruco.generateImageMarker(family, tag, 8)[::-1, ::-1]
    picture = np.full((120, 120), 255, np.uint8)
    picture[20:100, 20:100] = np.kron(modules, np.ones((10, 10), np.uint8))
    (found,) = detector.detect(picture)
    # Counter-clockwise from the bottom left of an upright tag.
    corners = found.corners.round().astype(int).tolist()
    assert found.tag_id == tag and corners == [[20, 100], [100, 100], [100, 20], [20, 20]]
    for row in range(8):
        print(f"{tag},{row}," + "".join("1" if value < 128 else "0" for value in modules[row]))
