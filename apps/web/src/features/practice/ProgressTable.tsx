// How the learner does, defect by defect: sensitivity with its interval, its course, and the difficulty that follows.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Practice, PracticeProgress } from '@blendrak/contract';
import { GREY, MONO } from '../../app/theme';
import { DEFECT_LOOKS, DefectSign } from '../../shared/defects';
import { PlainTable } from '../../shared/PlainTable';

const LEVELS = ['plain', 'a quarter faint', 'half faint', 'three quarters faint', 'all faint'] as const;
const [BAR_PX, MOST] = [150, 5];

export function ProgressTable({ progress, places, pairs }: Pick<Practice, 'progress' | 'places' | 'pairs'>) {
  if (progress.length === 0 && pairs.length === 0)
    return (
      <Typography color="text.secondary">
        Nothing has been solved yet: progress shows after the first exercise.
      </Typography>
    );
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {pairs.length > 0 && (
        <PlainTable
          label="Which of two, by defect"
          heads={['Which of two', 'Told rightly', 'Of all such pairs, 95 %']}
          rows={pairs.map(({ defect, shown, right, low, high }) => ({
            name: DEFECT_LOOKS[defect].name,
            cells: [
              `${right} of ${shown}`,
              `${Math.round(100 * low)} to ${Math.round(100 * high)} %${low <= 0.5 ? ', may be guessing' : ''}`,
            ],
          }))}
        />
      )}
      {progress.length > 0 && <Finding progress={progress} places={places} />}
    </Box>
  );
}

function Finding({ progress, places }: Pick<Practice, 'progress' | 'places'>) {
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <PlainTable
        label="Progress by defect"
        wide
        heads={['Defect', 'Found', 'Named', 'Invented', 'Sensitivity d′, with 95 %', 'Course', 'Difficulty']}
        rows={progress.map(({ defect, shown, found, named, invented, ...rest }) => ({
          name: DEFECT_LOOKS[defect].name,
          cells: [
            `${found} of ${shown}`,
            String(named),
            String(invented),
            <Interval key="d" {...rest} defect={defect} />,
            <Course key="c" course={rest.course} />,
            LEVELS[rest.level],
          ],
        }))}
      />
      <Typography variant="body2" color="text.secondary">
        {placesWords(places)}
      </Typography>
    </Box>
  );
}

/** d′ as a mark, what it can be as a bar; 0 is guessing. */
function Interval({ dPrime, low, high, defect }: Pick<PracticeProgress, 'dPrime' | 'low' | 'high' | 'defect'>) {
  const at = (d: number): number => (Math.min(MOST, Math.max(-1, d) + 1) / (MOST + 1)) * BAR_PX;
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
      <svg
        width={BAR_PX}
        height={14}
        role="img"
        aria-label={`${DEFECT_LOOKS[defect].name}: d′ ${dPrime.toFixed(1)}, ${low.toFixed(1)} to ${high.toFixed(1)}`}
      >
        <path d={`M0 7H${BAR_PX}`} stroke={GREY.rule} />
        <path d={`M${at(0)} 1v12`} stroke={GREY.quiet} strokeDasharray="2 2" />
        <path d={`M${at(low)} 7H${at(high)}`} stroke={GREY.quiet} strokeWidth={4} />
        <path d={`M${at(dPrime)} 0v14`} stroke="#fff" strokeWidth={2.5} />
      </svg>
      <span style={{ fontFamily: MONO, fontSize: 12 }}>{dPrime.toFixed(1)}</span>
      <DefectSign defect={defect} size={13} />
    </Box>
  );
}

/** d′ from exercise to exercise. */
function Course({ course }: Pick<PracticeProgress, 'course'>) {
  const points = course.map(({ dPrime }, k) => {
    const x = course.length === 1 ? 35 : (k / (course.length - 1)) * 70;
    return `${x},${18 - (Math.min(MOST, Math.max(0, dPrime)) / MOST) * 16}`;
  });
  return (
    <svg width={72} height={20} aria-hidden>
      <polyline points={points.join(' ')} fill="none" stroke={GREY.text} strokeWidth={1.5} />
      {points.length === 1 && <circle cx={35} cy={Number(points[0]!.split(',')[1])} r={2} fill={GREY.text} />}
    </svg>
  );
}

function placesWords(places: Practice['places']): string {
  const known = places.filter((p) => p.shown > 0);
  return `Found by place: ${known.map(({ place, shown, found }) => `${place} ${found} of ${shown}`).join(', ')}.`;
}
