// Alignment on a marked subject: a polygon drawn on a frame; the rest may go its own way.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState } from 'react';
import type { Merge } from '@blendrak/contract';
import { api, tileUrl, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';

const WIDTH = 420;

type Corner = readonly [number, number];

export function SubjectArea({ merge, busy }: { readonly merge: Merge; readonly busy: boolean }) {
  const [corners, setCorners] = useState<readonly Corner[]>(merge.subject);
  const { enqueueSnackbar } = useSnackbar();
  const queries = useQueryClient();
  const align = useMutation({
    mutationFn: (subject: readonly Corner[]) =>
      api.process(merge.jobId, { options: merge.options, subject: subject.map(([x, y]) => [x, y]) }),
    onSuccess: (job) => queries.setQueryData(KEYS.job(merge.jobId), job),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  const frame = merge.frames[merge.reference]!;
  const height = Math.round((WIDTH * merge.height) / merge.width);
  const points = corners.map(([x, y]) => `${x * WIDTH},${y * height}`).join(' ');
  const off = busy || align.isPending;
  return (
    <Box component="section" aria-label="Subject" sx={{ display: 'flex', gap: 3, alignItems: 'flex-start', mb: 3 }}>
      <Box sx={{ position: 'relative', width: WIDTH, height, flex: 'none' }}>
        <img
          src={tileUrl(`p-${frame.pictureId}`, 'full', '!840,840')}
          alt={frame.fileName}
          style={{ width: '100%', height: '100%' }}
        />
        <svg
          viewBox={`0 0 ${WIDTH} ${height}`}
          data-testid="subject-area"
          style={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
          onClick={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            const corner = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] as const;
            setCorners((now) => [...now, corner]);
          }}
        >
          <polygon points={points} fill="none" stroke="#000000" strokeWidth={3.5} />
          <polygon points={points} fill="none" stroke="#ffffff" strokeWidth={1.5} />
          {corners.map(([x, y], n) => (
            <circle key={n} cx={x * WIDTH} cy={y * height} r={3} fill="#ffffff" stroke="#000000" />
          ))}
        </svg>
      </Box>
      <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 420, justifyItems: 'start' }}>
        <Typography>
          {merge.subject.length > 0 ? 'Aligned on the marked subject.' : 'Aligned on the whole frame.'} Where the
          background fills most of the picture and moves against the subject, click corners around the subject and align
          on it alone.
        </Typography>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <Button variant="contained" disabled={off || corners.length < 3} onClick={() => align.mutate(corners)}>
            Align on the subject
          </Button>
          <Button disabled={corners.length === 0} onClick={() => setCorners((now) => now.slice(0, -1))}>
            Take the last corner back
          </Button>
          {merge.subject.length > 0 && (
            <Button variant="outlined" disabled={off} onClick={() => align.mutate([])}>
              Align on the whole frame
            </Button>
          )}
        </Box>
        <Typography variant="body2" color="text.secondary">
          {corners.length < 3 ? `${corners.length} of at least 3 corners.` : `${corners.length} corners.`} The frames
          are aligned and merged anew.
        </Typography>
      </Box>
    </Box>
  );
}
