// Task of measuring along a segment.
import type { PinKind, Reading } from '@blendrak/contract';
import type { Segment } from '@blendrak/core/instruments';
import type { InspectionScene } from './pictures';

export interface InstrumentTasks {
  /** `labels` is the path of the merge's label maps; null where there are none. Null where there is nothing to read. */
  readonly measure: [
    { scene: InspectionScene; instrument: PinKind; segment: Segment; labels: string | null },
    Reading | null,
  ];
}
