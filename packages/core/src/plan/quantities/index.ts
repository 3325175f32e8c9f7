// Quantities as people type and read them.
export { formatLength, LENGTH_UNITS, parseLength, readableLength, type LengthUnit, type TypedLength } from './length';
export { formatDuration, formatShutter, parseShutter } from './shutter';
export { formatFNumber, parseFNumber } from './fNumber';
export { formatBytes } from './bytes';
