// Lessons as sentences with the jobs that speak for them; each is taken into the next plans, or refused.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import type { Lesson } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { DefectSign } from '../../shared/defects';

const STATES: Record<Lesson['state'], string> = { open: '', taken: 'taken into plans', refused: 'refused' };

interface LessonsProps {
  readonly lessons: readonly Lesson[];
  onChoose(id: string, state: Lesson['state']): void;
}

export function Lessons({ lessons, onChoose }: LessonsProps) {
  if (lessons.length === 0)
    return (
      <Typography color="text.secondary">
        No job has taught anything yet: nothing went wrong that a plan could change.
      </Typography>
    );
  return (
    <Box
      component="ul"
      aria-label="Lessons"
      sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 2, maxWidth: 760 }}
    >
      {lessons.map(({ id, kind, defect, words, advice, jobs, state, change }) => (
        <Box
          component="li"
          key={id}
          sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1, opacity: state === 'refused' ? 0.7 : 1 }}
        >
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            <DefectSign defect={defect} size={16} />
            <Typography sx={{ fontWeight: 600, flex: 1 }}>{words}</Typography>
            <Typography variant="body2" color="text.secondary">
              {STATES[state]}
            </Typography>
          </Box>
          <Typography sx={{ mt: 0.5 }}>
            {advice} {change === null && 'No plan can do that for you.'}
          </Typography>
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
            {kind.replace('-', ' ')}:{' '}
            {jobs.map((job, k) => (
              <span key={job.id}>
                {k > 0 && ', '}
                <Link to={`/jobs/${job.id}/bench`} style={{ color: GREY.quiet }}>
                  {job.name}
                </Link>
              </span>
            ))}
          </Typography>
          <Box sx={{ display: 'flex', gap: 0.5, mt: 0.5 }}>
            {state === 'open' ? (
              <>
                <Button variant="outlined" onClick={() => onChoose(id, 'taken')}>
                  Take it
                </Button>
                <Button color="inherit" onClick={() => onChoose(id, 'refused')}>
                  Refuse
                </Button>
              </>
            ) : (
              <Button color="inherit" onClick={() => onChoose(id, 'open')}>
                Think again
              </Button>
            )}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
