// What earlier jobs teach a plan of their kind: each lesson is taken into it, or refused.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { Lesson, PlanSheetRecord } from '@blendrak/contract';
import { takeLesson } from '@blendrak/core/learn';
import { useLessonChoice, useLessons } from '../../shared/lessons';
import { GREY } from '../../app/theme';

interface PlanLessonsProps {
  readonly sheet: PlanSheetRecord;
  onChange(sheet: PlanSheetRecord): void;
}

/** A plan with a lesson taken; the same one where it has nothing that the lesson would change. */
export function taught(sheet: PlanSheetRecord, { change }: Pick<Lesson, 'change'>): PlanSheetRecord {
  if (!change) return sheet;
  switch (sheet.kind) {
    case 'focus-stack': {
      const request = takeLesson(sheet.request, change);
      // A series that was typed in is laid out anew: otherwise it would stay as it is.
      return request === sheet.request ? sheet : { ...sheet, request: { ...request, focusMm: null } };
    }
    case 'panorama': {
      const request = takeLesson(sheet.request, change);
      return request === sheet.request ? sheet : { ...sheet, request };
    }
    case 'bracket': {
      const request = takeLesson(sheet.request, change);
      return request === sheet.request ? sheet : { ...sheet, request };
    }
  }
}

export function PlanLessons({ sheet, onChange }: PlanLessonsProps) {
  const lessons = useLessons().data ?? [];
  const choice = useLessonChoice();
  const own = lessons.filter((l) => l.kind === sheet.kind && l.state !== 'refused');
  if (own.length === 0) return null;
  return (
    <Box component="section" aria-label="From earlier jobs">
      <details>
        <Typography component="summary" variant="h2" sx={{ cursor: 'pointer', minHeight: 24 }}>
          From earlier jobs: {own.length === 1 ? '1 lesson' : `${own.length} lessons`}
        </Typography>
        <Box sx={{ display: 'grid', gap: 1, pt: 1 }}>
          {own.map((lesson) => {
            const { id, words, advice, state, change } = lesson;
            const next = taught(sheet, lesson);
            const isIn = change !== null && (next === sheet || (state === 'taken' && 'add' in change));
            return (
              <Box key={id} sx={{ borderLeft: `3px solid ${isIn ? GREY.rule : GREY.text}`, pl: 1 }}>
                <Typography variant="body2">{words}</Typography>
                <Typography variant="body2" color="text.secondary">
                  {advice}
                </Typography>
                {isIn && (
                  <Typography variant="body2" color="text.secondary">
                    This plan has it.
                  </Typography>
                )}
                {change !== null && !isIn && (
                  <Box sx={{ display: 'flex', gap: 0.5 }}>
                    <Button
                      variant="outlined"
                      onClick={() => {
                        onChange(next);
                        choice.mutate({ id, state: 'taken' });
                      }}
                    >
                      Take it into this plan
                    </Button>
                    <Button color="inherit" onClick={() => choice.mutate({ id, state: 'refused' })}>
                      Refuse
                    </Button>
                  </Box>
                )}
              </Box>
            );
          })}
        </Box>
      </details>
    </Box>
  );
}
