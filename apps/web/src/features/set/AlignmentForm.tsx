// How the frames are aligned: on what, with how many freedoms, and whether they may be shifted locally.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState } from 'react';
import type { AlignmentSettings, Merge } from '@blendrak/contract';
import { api, tileUrl, wordsOf } from '../../shared/api';
import { AreaPainter } from '../../shared/area/AreaPainter';
import { Choice } from '../../shared/Choice';
import { KEYS } from '../../shared/queries';
import { BENDS, MODELS, SUBJECTS, subjectKind, withSubject, type SubjectKind } from './alignmentSettings';

export function AlignmentForm({ merge, busy }: { readonly merge: Merge; readonly busy: boolean }) {
  const [settings, setSettings] = useState<AlignmentSettings>(merge.alignment);
  const [kind, setKind] = useState<SubjectKind>(subjectKind(merge.alignment.subject));
  const { enqueueSnackbar } = useSnackbar();
  const queries = useQueryClient();
  const align = useMutation({
    mutationFn: () =>
      api.process(merge.jobId, { own: merge.origin === 'own', options: merge.options, alignment: settings }),
    onSuccess: (job) => queries.setQueryData(KEYS.job(merge.jobId), job),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  const set = (change: Partial<AlignmentSettings>): void => setSettings((s) => ({ ...s, ...change }));
  const frame = merge.frames[merge.reference]!;
  const turning = merge.kind === 'panorama';
  const { subject } = settings;
  const unmarked = kind === 'area' && subject.shapes.length === 0;
  return (
    <Box
      component="section"
      aria-label="How to align"
      sx={{ display: 'flex', gap: 3, alignItems: 'flex-start', mb: 3 }}
    >
      {!turning && kind === 'area' && (
        <AreaPainter
          label="Subject"
          picture={tileUrl(`p-${frame.pictureId}`, 'full', '!920,920')}
          width={merge.width}
          height={merge.height}
          start={subject.shapes}
          onChange={(shapes) => set({ subject: { shapes, sharpOf: null } })}
        />
      )}
      <Box sx={{ display: 'grid', gap: 1.5, width: 420 }}>
        <Typography variant="h3" component="h2">
          Align in another way
        </Typography>
        {!turning && (
          <>
            <Choice
              label="Align on"
              value={kind}
              choices={SUBJECTS.filter(([k]) => k !== 'sharp' || merge.kind === 'focus-stack')}
              onChange={(next) => {
                setKind(next);
                set({ subject: withSubject(next, frame.pictureId) });
              }}
            />
            {kind === 'sharp' && (
              <Choice
                label="Sharp in"
                value={subject.sharpOf ?? frame.pictureId}
                choices={merge.frames.map((f) => [f.pictureId, f.fileName] as const)}
                onChange={(sharpOf) => set({ subject: { shapes: [], sharpOf } })}
              />
            )}
            <Choice label="Model" value={settings.model} choices={MODELS} onChange={(model) => set({ model })} />
          </>
        )}
        <Choice
          label="Local shifts"
          value={String(settings.bendPx)}
          choices={BENDS}
          onChange={(bend) => set({ bendPx: Number(bend) })}
        />
        <Typography variant="body2" color="text.secondary">
          {turning
            ? 'Local shifts close what parallax leaves between neighbours. No straight line bends by more than you allow.'
            : 'Where the background fills most of the picture and moves against the subject, align on the subject alone. Local shifts close what parallax leaves; no straight line bends by more than you allow.'}
        </Typography>
        <Button
          variant="contained"
          disabled={busy || align.isPending || unmarked}
          onClick={() => align.mutate()}
          sx={{ justifySelf: 'start' }}
        >
          Align again
        </Button>
        <Typography variant="body2" color="text.secondary">
          {unmarked ? 'Mark the subject first.' : 'The frames are aligned and merged anew.'}
        </Typography>
      </Box>
    </Box>
  );
}
