// Straightening and cropping in numbers, with what it costs.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Cut, Finish } from '@blendrak/contract';
import { Choice } from '../../shared/Choice';
import type { PictureSize } from './printWords';

export type Shape = 'any' | '3:2' | '4:3' | '5:4' | '1:1' | '16:9' | '2:3' | '4:5' | 'own';

const SHAPES: readonly (readonly [Shape, string])[] = [
  ['any', 'any shape'],
  ['3:2', '3 : 2'],
  ['4:3', '4 : 3'],
  ['5:4', '5 : 4'],
  ['1:1', '1 : 1'],
  ['16:9', '16 : 9'],
  ['2:3', '2 : 3 upright'],
  ['4:5', '4 : 5 upright'],
  ['own', 'own'],
];

/** Width over height of a shape; null for any, NaN for an own one that is no number. */
export function aspectOf(shape: Shape, own: string): number | null {
  if (shape === 'any') return null;
  const [across, down = '1'] = (shape === 'own' ? own : shape).split(':');
  const aspect = Number(across) / Number(down);
  return across?.trim() && aspect >= 0.05 && aspect <= 20 ? aspect : NaN;
}

interface CutFormProps {
  readonly size: PictureSize;
  readonly cut: Cut;
  readonly cost: Finish['cost'];
  readonly tilt: Finish['tilt'];
  readonly shape: Shape;
  readonly own: string;
  readonly isLocked: boolean;
  /** Whether what is shown differs from what is kept. */
  readonly isChanged: boolean;
  readonly isDrawing: boolean;
  readonly problem: string | null;
  onShape(shape: Shape, own: string): void;
  /** Asks for the largest clean crop at a turn. */
  onPropose(turnDeg: number): void;
  onDraw(): void;
  onKeep(): void;
  onWhole(): void;
}

export function CutForm(props: CutFormProps) {
  const { size, cut, cost, tilt, shape, own, isLocked, isChanged, isDrawing, problem } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const turn = typed ?? String(Number(cut.turnDeg.toFixed(2)));
  const wanted = turn.trim() === '' ? NaN : Number(turn);
  const isTurn = Math.abs(wanted) <= 20;
  const isShape = !Number.isNaN(aspectOf(shape, own) ?? 1);
  const propose = (deg: number): void => {
    setTyped(null);
    props.onPropose(deg);
  };
  const { width, height } = cut.crop ?? size;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'flex-start' }}>
        <TextField
          size="small"
          label="Turn, °"
          value={turn}
          disabled={isLocked}
          error={!isTurn}
          helperText={isTurn ? undefined : '−20 to 20'}
          onChange={(e) => setTyped(e.target.value)}
          sx={{ width: 84 }}
        />
        <Choice label="Shape" value={shape} choices={SHAPES} onChange={(next) => props.onShape(next, own)} />
        {shape === 'own' && (
          <TextField
            size="small"
            label="Own, w:h"
            value={own}
            error={!isShape}
            onChange={(e) => props.onShape('own', e.target.value)}
            sx={{ width: 84 }}
          />
        )}
        <Button
          variant="outlined"
          disabled={isLocked || !isTurn || !isShape}
          onClick={() => propose(wanted)}
          sx={{ height: 38 }}
        >
          Largest clean crop
        </Button>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {tilt && Math.abs(tilt.turnDeg) >= 0.05 && (
          <Button variant="outlined" disabled={isLocked} onClick={() => propose(Number(tilt.turnDeg.toFixed(2)))}>
            Straighten by {tilt.turnDeg.toFixed(2)}° ({tilt.edges} edges agree)
          </Button>
        )}
        <Button variant={isDrawing ? 'contained' : 'outlined'} disabled={isLocked} onClick={props.onDraw}>
          {isDrawing ? 'Draw along an edge …' : 'Straighten by a line'}
        </Button>
      </Box>
      <Typography variant="body2">
        {width} × {height} px stay. {costWords(cost)}
      </Typography>
      {problem && (
        <Typography role="alert" variant="body2" color="error">
          {problem}
        </Typography>
      )}
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="contained" disabled={isLocked || !isChanged} onClick={props.onKeep}>
          Keep this cut
        </Button>
        <Button color="inherit" disabled={isLocked || (cut.crop === null && cut.turnDeg === 0)} onClick={props.onWhole}>
          Whole picture
        </Button>
      </Box>
      <Typography variant="body2" color="text.secondary">
        Cropping makes nothing up: what no frame shows is not in the picture.
      </Typography>
    </Box>
  );
}

export function costWords({ ofPicture, ofSubject }: Finish['cost']): string {
  const percent = (share: number): string => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;
  if (ofPicture < 0.0005) return 'Nothing is cut off.';
  const subject =
    ofSubject === null
      ? ''
      : ofSubject < 0.0005
        ? ', none of it subject'
        : `, and ${percent(ofSubject)} of the subject`;
  return `${percent(ofPicture)} of the picture is cut off${subject}.`;
}
