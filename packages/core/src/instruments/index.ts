// What people measure with in a merge: along a line, across an edge, on both sides of a seam, against each of its frames.
export { sampleStrip, segmentLength, SEGMENT_PX, type Segment, type Strip } from './sampleStrip';
export { edgeProbe, type EdgeReading, type EdgeShape, type HaloBand } from './edgeProbe';
export { lineProbe, type LineBreak, type LineReading, type LineStep } from './lineProbe';
export {
  patchProbe,
  patchSquares,
  type PatchMeasure,
  type PatchPair,
  type PatchReading,
  type Places,
} from './patchProbe';
