// The simulated camera as the rest of the application sees it.
export { openCamera, type CameraPool } from './cameraPool';
export { composeElsewhere, type MadeElsewhere } from './composeElsewhere';
export { leaveOut } from './leaveOut';
export { photograph, photographHand, stripsOf, type CardFile, type CardOptions, type Photographed } from './photograph';
export { checkOrder, kindOfSubject, shootCardOrder, shootMenu, shootOrder, type Card } from './shootOrder';
export { shootCard, type CardSet, type CardTruth } from './shootCard';
export { writeTruth } from './truthFile';
export type { FileFormat } from './cameraTasks';
