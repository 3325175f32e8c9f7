// What the learner marked, each with its name and the frame to repair from.
import Box from '@mui/material/Box';
import Delete from '@mui/icons-material/DeleteOutlined';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import type { DefectWord, LearnersMarkRecord } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { Choice } from '../../shared/Choice';
import { DEFECT_LOOKS, DefectSign } from '../../shared/defects';

interface MarkListProps {
  readonly marks: readonly LearnersMarkRecord[];
  readonly defects: readonly DefectWord[];
  readonly frames: readonly string[];
  readonly chosen: number | null;
  onChoose(mark: number): void;
  onChange(mark: number, part: Partial<LearnersMarkRecord>): void;
  onRemove(mark: number): void;
}

const NO_FRAME = '';

export function MarkList({ marks, defects, frames, chosen, onChoose, onChange, onRemove }: MarkListProps) {
  if (marks.length === 0)
    return (
      <Typography variant="body2" color="text.secondary">
        Click on what is wrong, or draw around it. Drag with Shift or the right button to move the picture; the wheel
        zooms.
      </Typography>
    );
  return (
    <Box component="ol" aria-label="Your marks" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}>
      {marks.map(({ defect, donor }, k) => (
        <Box
          component="li"
          key={k}
          onFocus={() => onChoose(k)}
          onClick={() => onChoose(k)}
          sx={{
            display: 'flex',
            gap: 0.75,
            alignItems: 'center',
            borderLeft: `3px solid ${k === chosen ? GREY.text : GREY.rule}`,
            pl: 1,
            '& .MuiSelect-select': { py: 0.5, fontSize: 12.5 },
          }}
        >
          <span>{k + 1}</span>
          <DefectSign defect={defect} size={15} />
          <Choice<DefectWord>
            label={`Name of ${k + 1}`}
            bareWidthPx={136}
            value={defect}
            choices={defects.map((d) => [d, DEFECT_LOOKS[d].name] as const)}
            onChange={(next) => onChange(k, { defect: next })}
          />
          <Choice<string>
            label={`Donor of ${k + 1}`}
            bareWidthPx={124}
            value={donor ?? NO_FRAME}
            choices={[[NO_FRAME, 'no donor'], ...frames.map((f) => [f, f] as const)]}
            onChange={(next) => onChange(k, { donor: next === NO_FRAME ? null : next })}
          />
          <IconButton size="small" aria-label={`Take mark ${k + 1} away`} onClick={() => onRemove(k)}>
            <Delete fontSize="inherit" />
          </IconButton>
        </Box>
      ))}
    </Box>
  );
}
