// What no frame shows can be filled from around it: only when it is asked for, and called invented. Where a frame has it, that is better.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { Finding } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { newId } from '../../../shared/newId';
import { keepOperations, KEYS, knownRevision } from '../../../shared/queries';
import { untilAnswered } from '../../../shared/untilAnswered';

const OFFERS: Partial<Record<Finding['defect'], string>> = {
  border: 'Or crop it off on Finish.',
  dust: 'No frame has this place without the speck.',
};

export function FillOffer({ finding }: { readonly finding: Finding }) {
  const client = useQueryClient();
  const { mergeId } = finding;
  const fill = useMutation({
    ...untilAnswered,
    mutationFn: (id: string) => api.fill(mergeId, knownRevision(client, KEYS.operations(mergeId)), id, finding.id),
    onSuccess: (changes) => {
      keepOperations(client, mergeId, changes);
      void client.invalidateQueries({ queryKey: KEYS.findings(mergeId) });
    },
  });
  const words = OFFERS[finding.defect];
  if (!words || finding.donor !== null || finding.decision !== 'open') return null;
  return (
    <Box sx={{ display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      <Button variant="outlined" disabled={fill.isPending} onClick={() => fill.mutate(newId())}>
        Fill it from around (invents picture)
      </Button>
      <Typography variant="body2" color="text.secondary">
        {words} What is filled is named as invented in the record and the report.
      </Typography>
      {fill.error && (
        <Typography role="alert" variant="body2" color="error">
          {wordsOf(fill.error)}
        </Typography>
      )}
    </Box>
  );
}
