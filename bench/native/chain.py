# A plain native chain of stock parts that does the steps of `blendrak merge`, to hold its time, memory and result against.
# Run by bench/merge.ts where Debian's python3-opencv is installed:
#   python3 chain.py focus-stack|panorama|bracket FOLDER OUT [REFERENCE]
# focus stack: affine registration by correlation (ECC) of neighbours at half size, Laplacian pyramids, the stronger detail wins.
# panorama: the stitcher that comes with the library, 16-bit TIFF out. bracket: median-threshold shifts, exposure fusion.
import os
import sys

import cv2
import numpy as np

LEVELS = 6
REGISTRATION_PX = 1500


def read_all(folder):
    names = sorted(n for n in os.listdir(folder) if n.lower().endswith((".jpg", ".png", ".tif")))
    return names, [cv2.imread(os.path.join(folder, n), cv2.IMREAD_COLOR) for n in names]


def register(reference, moving):
    scale = min(1.0, REGISTRATION_PX / max(reference.shape))
    small = [
        cv2.resize(cv2.cvtColor(p, cv2.COLOR_BGR2GRAY), None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        for p in (reference, moving)
    ]
    warp = np.eye(2, 3, dtype=np.float32)
    criteria = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 60, 1e-5)
    _, warp = cv2.findTransformECC(small[0], small[1], warp, cv2.MOTION_AFFINE, criteria, None, 5)
    warp[:, 2] /= scale
    return np.vstack([warp, [0, 0, 1]])


def stack(names, frames, reference):
    at = names.index(reference) if reference else 0
    height, width = frames[at].shape[:2]
    maps = {at: np.eye(3)}
    for k in range(at + 1, len(frames)):
        maps[k] = register(frames[k - 1], frames[k]) @ maps[k - 1]
    for k in range(at - 1, -1, -1):
        maps[k] = register(frames[k + 1], frames[k]) @ maps[k + 1]
    best, base = None, None
    for k, frame in enumerate(frames):
        flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
        warped = cv2.warpAffine(frame, maps[k][:2], (width, height), flags=flags, borderMode=cv2.BORDER_REPLICATE)
        level = warped.astype(np.float32)
        pyramid = []
        for _ in range(LEVELS):
            down = cv2.pyrDown(level)
            pyramid.append(level - cv2.pyrUp(down, dstsize=(level.shape[1], level.shape[0])))
            level = down
        energy = [cv2.GaussianBlur(np.abs(p).max(axis=2), (5, 5), 0) for p in pyramid]
        if best is None:
            best, base = [list(pair) for pair in zip(pyramid, energy)], level.copy()
            continue
        base += level
        for kept, p, e in zip(best, pyramid, energy):
            wins = e > kept[1]
            kept[0][wins] = p[wins]
            kept[1] = np.maximum(kept[1], e)
    out = base / len(frames)
    for p, _ in reversed(best):
        out = cv2.pyrUp(out, dstsize=(p.shape[1], p.shape[0])) + p
    return out


def bracket(frames):
    aligned = list(frames)
    cv2.createAlignMTB().process(frames, aligned)
    return 255 * cv2.createMergeMertens().process(aligned)


def panorama(frames):
    status, out = cv2.Stitcher_create(cv2.Stitcher_PANORAMA).stitch(frames)
    if status != 0:
        sys.exit(f"the stitcher gave up with status {status}")
    return out.astype(np.float32)


def main():
    kind, folder, path = sys.argv[1:4]
    names, frames = read_all(folder)
    if kind == "focus-stack":
        out = stack(names, frames, sys.argv[4] if len(sys.argv) > 4 else None)
    else:
        out = bracket(frames) if kind == "bracket" else panorama(frames)
    deep = np.clip(out * 257, 0, 65535).astype(np.uint16)
    cv2.imwrite(path, deep, [cv2.IMWRITE_TIFF_COMPRESSION, 1])


main()
