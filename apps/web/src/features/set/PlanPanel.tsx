// The plan a set was shot by, against what its files and their alignment say.
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { JobPlan } from '@blendrak/contract';
import { api, wordsOf } from '../../shared/api';
import { PlainTable } from '../../shared/PlainTable';
import { KEYS } from '../../shared/queries';

const NONE = 'none';
const HUE = {
  'as planned': 'text.primary',
  better: 'success.main',
  worse: 'warning.main',
  unknown: 'text.secondary',
} as const;
const WORDS = {
  'as planned': 'as planned',
  better: 'on the safe side',
  worse: 'short of the plan',
  unknown: 'not known',
} as const;

export function PlanPanel({ jobId }: { readonly jobId: string }) {
  const client = useQueryClient();
  const plans = useQuery({ queryKey: ['plans'], queryFn: api.plans });
  const attached = useQuery({ queryKey: KEYS.jobPlan(jobId), queryFn: () => api.jobPlan(jobId) });
  const attach = useMutation({
    mutationFn: (planId: string | null) => api.attachPlan(jobId, planId),
    onSuccess: (result) => client.setQueryData(KEYS.jobPlan(jobId), result),
  });
  const problem = attached.error ?? attach.error;
  const plan = attached.data?.plan ?? null;
  const listed = plans.data?.some((p) => p.id === plan?.planId) ?? false;
  return (
    <Box component="section" aria-label="Plan" sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Plan and what came of it
      </Typography>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
        <TextField
          select
          size="small"
          label="Plan"
          sx={{ width: 320 }}
          value={plan?.planId ?? NONE}
          onChange={(event) => attach.mutate(event.target.value === NONE ? null : event.target.value)}
        >
          <MenuItem value={NONE}>none</MenuItem>
          {plan && !listed && <MenuItem value={plan.planId}>{plan.name}</MenuItem>}
          {plans.data?.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
        </TextField>
        {plan && listed && (
          <Typography component={Link} to={`/plan/${plan.planId}`} sx={{ color: 'inherit' }}>
            Open the plan
          </Typography>
        )}
      </Box>
      {problem && (
        <Typography role="alert" color="error">
          {wordsOf(problem)}
        </Typography>
      )}
      {attached.data && plan && <Comparison rows={attached.data.comparison} />}
    </Box>
  );
}

function Comparison({ rows }: { readonly rows: JobPlan['comparison'] }) {
  const shown = (value: number | null, unit: string): string => {
    if (value === null) return '–';
    const figure = Number(value.toPrecision(3));
    return unit === 'f/' ? `f/${figure}` : `${figure}${unit ? ` ${unit}` : ''}`;
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <PlainTable
        label="Plan against reality"
        heads={['', 'Planned', 'Shot', '']}
        rows={rows.map(({ what, unit, planned, actual, verdict }) => ({
          name: what,
          cells: [
            shown(planned, unit),
            shown(actual, unit),
            <Box component="span" key="verdict" sx={{ color: HUE[verdict] }}>
              {WORDS[verdict]}
            </Box>,
          ],
        }))}
      />
    </Box>
  );
}
