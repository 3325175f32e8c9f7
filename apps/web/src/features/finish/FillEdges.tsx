// The other school: edges that no frame covers (others are repaired on the bench) are filled instead of cropped off, each asked for here and named as invented.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { Finding } from '@blendrak/contract';
import { api, wordsOf } from '../../shared/api';
import { newId } from '../../shared/newId';
import { KEYS } from '../../shared/queries';
import { untilAnswered } from '../../shared/untilAnswered';

interface FillEdgesProps {
  readonly mergeId: string;
  readonly findings: readonly Finding[];
  readonly isLocked: boolean;
}

interface FillOrder {
  readonly id: string;
  readonly findingId: string;
}

export function FillEdges({ mergeId, findings, isLocked }: FillEdgesProps) {
  const client = useQueryClient();
  const edges = findings.filter((f) => f.defect === 'border' && f.decision === 'open' && !f.repairable);
  const fill = useMutation({
    ...untilAnswered,
    mutationFn: async (orders: readonly FillOrder[]) => {
      // One after the other: what is filled beside one is not taken for the next.
      for (const { id, findingId } of orders) await api.fill(mergeId, 0, id, findingId);
    },
    onSettled: () =>
      Promise.all(
        [KEYS.findings(mergeId), KEYS.operations(mergeId), KEYS.finish(mergeId)].map((queryKey) =>
          client.invalidateQueries({ queryKey }),
        ),
      ),
  });
  if (edges.length === 0 && !fill.error) return null;
  const words = edges.length === 1 ? 'One edge has' : `${edges.length} edges have`;
  return (
    <Box sx={{ display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      <Typography variant="body2">
        {words} no picture: the largest clean crop leaves {edges.length === 1 ? 'it' : 'them'} out, or
      </Typography>
      <Button
        variant="outlined"
        disabled={isLocked || fill.isPending}
        onClick={() => fill.mutate(edges.map(({ id }) => ({ id: newId(), findingId: id })))}
      >
        {fill.isPending ? 'Filling …' : 'Fill from around (invents picture)'}
      </Button>
      {fill.error && (
        <Typography role="alert" variant="body2" color="error">
          {wordsOf(fill.error)}
        </Typography>
      )}
    </Box>
  );
}
