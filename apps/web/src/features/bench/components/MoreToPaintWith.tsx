// The last place of the trace strip: another merge of the set made here, to be painted with as a frame is.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import LinearProgress from '@mui/material/LinearProgress';
import ListItemText from '@mui/material/ListItemText';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { otherMethods, type SourceMethod } from '@blendrak/contract';
import { GREY } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';
import { useMoreSources } from '../hooks/useMoreSources';

const WORDS: Readonly<Record<SourceMethod, readonly [name: string, about: string]>> = {
  labels: ['Sharpest frame', 'Each place from one frame, few borders: clean edges'],
  bands: ['Band by band', 'Without borders: hair, stalks, things that cross'],
  reference: ['Reference first', 'Other frames only where the reference lacks sharpness'],
  seams: ['Own seams', 'Led around what moved between the frames'],
  fusion: ['By exposure', 'Each place as its best exposure shows it, in the tone of this merge'],
  light: ['As light', 'Merged as light, then brought to the tone of this merge'],
};

interface MoreProps {
  readonly merge: BenchMerge;
  readonly side: number;
  readonly left: number;
  readonly top: number;
}

/** Nothing where no other merge would differ from this one, or all are there. */
export function MoreToPaintWith({ merge, side, left, top }: MoreProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { work, make, cancel } = useMoreSources(merge);
  const have = new Set(merge.sources.map((s) => s.method));
  const methods = otherMethods(merge).filter((method) => !have.has(method));
  if (methods.length === 0 && !work) return null;
  const place = {
    position: 'absolute',
    left,
    top,
    width: side,
    height: side,
    fontSize: 10.5,
    lineHeight: 1.2,
  } as const;
  const frame = {
    ...place,
    border: `1px dashed ${GREY.quiet}`,
    color: GREY.quiet,
    p: 0.25,
    textAlign: 'center',
  } as const;
  if (work)
    return (
      <ButtonBase
        sx={{ ...frame, display: 'block' }}
        title="Being merged to paint with: click to cancel"
        onClick={cancel}
      >
        merging
        <LinearProgress
          aria-label="Merging to paint with"
          variant={work.progress > 0 ? 'determinate' : 'indeterminate'}
          value={work.progress * 100}
          sx={{ my: 0.5 }}
        />
        cancel
      </ButtonBase>
    );
  const close = (): void => setAnchor(null);
  return (
    <Box>
      <ButtonBase
        aria-haspopup="menu"
        aria-label="Another merge to paint with"
        title="Merge the set once more, here, to paint with it"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={frame}
      >
        + own merge
      </ButtonBase>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {methods.map((method) => (
          <MenuItem
            key={method}
            dense
            onClick={() => {
              close();
              make(method);
            }}
          >
            <ListItemText primary={WORDS[method][0]} secondary={WORDS[method][1]} />
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}
