// Repair with masks: strokes, rendering, and the masks to take away.
export { brushFall, layStroke, strokeRegion, type Stroke } from './strokes';
export { renderMask, renderRepair, type RepairStroke } from './renderRepair';
