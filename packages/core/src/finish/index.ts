// From mended picture to finished one: straightened, cropped, and what that costs.
export { cropCost, type CropCost } from './cropCost';
export { largestCrop, type CropWish } from './largestCrop';
export { leanOf, tiltOf, type Edge, type Tilt } from './tiltOf';
export { liesWithin, MOST_TURN_DEG, turnedPlace, turnGeometry, type Size } from './turnPicture';
