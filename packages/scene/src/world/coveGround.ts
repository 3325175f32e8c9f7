// Where the viewer of the cove stands.

/** Height of the eye above the cliff top, m. */
export const EYE_M = 1.7;
/** Height of the eye above the sea, m. */
export const SEA_BELOW_M = 17;
/** Everything lies within this tangent to either side: 76 degrees. */
export const WIDE = 4;
