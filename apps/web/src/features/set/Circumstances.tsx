// How a job was shot: on what, where and in what light. The log counts by it what goes wrong.
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Circumstances as Said, Job } from '@blendrak/contract';
import { api, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';

const FIELDS: readonly (readonly [keyof Said, string, string])[] = [
  ['support', 'Support', 'tripod, rail, hand …'],
  ['place', 'Place', 'the lamp room, the cliff …'],
  ['light', 'Light', 'windows, flash, cloud …'],
];

export function Circumstances({ job }: { readonly job: Job }) {
  const { id } = job.summary;
  const client = useQueryClient();
  const [said, setSaid] = useState<Said>(job.circumstances);
  const change = useMutation({
    mutationFn: (circumstances: Said) => api.changeJob(id, { circumstances }),
    onSuccess: (changed) => client.setQueryData(KEYS.job(id), changed),
  });
  const keep = (): void => {
    if (FIELDS.some(([name]) => said[name].trim() !== job.circumstances[name])) change.mutate(said);
  };
  return (
    <Box component="section" aria-label="How it was shot" sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        How it was shot
      </Typography>
      <Box sx={{ display: 'flex', gap: 1 }}>
        {FIELDS.map(([name, label, hint]) => (
          <TextField
            key={name}
            size="small"
            label={label}
            placeholder={hint}
            value={said[name]}
            onChange={(e) => setSaid({ ...said, [name]: e.target.value.slice(0, 80) })}
            onBlur={keep}
            sx={{ flex: 1 }}
          />
        ))}
      </Box>
      <Typography variant="body2" color={change.error ? 'error' : 'text.secondary'} sx={{ mt: 0.5 }}>
        {change.error ? wordsOf(change.error) : 'Saved when you leave a field; the log counts by it what goes wrong.'}
      </Typography>
    </Box>
  );
}
