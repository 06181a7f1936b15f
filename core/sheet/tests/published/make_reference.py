"""Modules of four corner marks as the reference library draws them.

    pip install opencv-python-headless==4.10.0.84
    python make_reference.py > tag36h11.csv

OpenCV's aruco module carries the AprilTag family 36h11 (DICT_APRILTAG_36h11).
"""

import cv2

family = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_APRILTAG_36h11)
print("tag,row,modules")
for tag in range(4):
    picture = cv2.aruco.generateImageMarker(family, tag, 8)
    for row in range(8):
        print(f"{tag},{row}," + "".join("1" if value < 128 else "0" for value in picture[row]))
