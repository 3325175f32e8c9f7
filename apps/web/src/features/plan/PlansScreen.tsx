// All plans, and the way to new ones, to the print check and to the kit.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link, useNavigate } from 'react-router';
import type { Kit, Plan } from '@blendrak/contract';
import { formatFNumber, planBracket, planFocusStack, planPanorama, readableLength } from '@blendrak/core/plan';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { newPlan, PLAN_KINDS, type PlanKind } from './newPlan';
import { useAddPlan, useKit, usePlans } from './usePlan';

export function PlansScreen() {
  const plans = usePlans();
  const kit = useKit();
  const problem = plans.error ?? kit.error;
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 1080, mx: 'auto', p: 3, display: 'grid', gap: 3 }}>
        <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Plan
          </Typography>
          <Button component={Link} to="/plan/print" variant="outlined">
            Print check
          </Button>
          <Button component={Link} to="/plan/kit" variant="outlined">
            Cameras and lenses
          </Button>
        </Box>
        {kit.data && <NewPlans kit={kit.data} />}
        {problem && (
          <Typography role="alert" color="error">
            {wordsOf(problem)}
          </Typography>
        )}
        {plans.data && <PlanList plans={plans.data} />}
      </Box>
    </Box>
  );
}

function NewPlans({ kit }: { readonly kit: Kit }) {
  const navigate = useNavigate();
  const add = useAddPlan((plan) => void navigate(`/plan/${plan.id}`));
  return (
    <Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: 2 }}>
        {(Object.entries(PLAN_KINDS) as [PlanKind, (typeof PLAN_KINDS)[PlanKind]][]).map(([kind, [name, what]]) => (
          <Button
            key={kind}
            variant="outlined"
            disabled={add.isPending}
            onClick={() => add.mutate(newPlan(kind, kit))}
            sx={{ display: 'flex', flexDirection: 'column', alignItems: 'flex-start', textAlign: 'left', p: 2 }}
          >
            <Typography variant="h2" component="span" sx={{ display: 'block' }}>
              New {name.toLowerCase()}
            </Typography>
            <Typography component="span" color="text.secondary">
              {what}
            </Typography>
          </Button>
        ))}
      </Box>
      {add.isError && (
        <Typography role="alert" color="error">
          {wordsOf(add.error)}
        </Typography>
      )}
    </Box>
  );
}

function PlanList({ plans }: { readonly plans: readonly Plan[] }) {
  if (plans.length === 0)
    return (
      <Typography color="text.secondary">
        No plan yet. A plan says how many frames to shoot, where and how, and becomes a card for the field.
      </Typography>
    );
  return (
    <Box component="ul" aria-label="Plans" sx={{ listStyle: 'none', m: 0, p: 0, borderTop: `1px solid ${GREY.rule}` }}>
      {plans.map((plan) => (
        <Box
          component="li"
          key={plan.id}
          sx={{ display: 'flex', gap: 2, py: 1.25, borderBottom: `1px solid ${GREY.rule}`, alignItems: 'baseline' }}
        >
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography component={Link} to={`/plan/${plan.id}`} sx={{ color: 'inherit', fontWeight: 650 }}>
              {plan.name}
            </Typography>
            <Typography variant="body2" color="text.secondary">
              {PLAN_KINDS[plan.sheet.kind][0]} · {briefOf(plan)}
            </Typography>
          </Box>
          <Typography variant="body2" color="text.secondary">
            {new Date(plan.changedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
          </Typography>
          <Button component={Link} to={`/plan/${plan.id}/card`} aria-label={`Capture card of ${plan.name}`}>
            Card
          </Button>
        </Box>
      ))}
    </Box>
  );
}

function briefOf({ sheet }: Plan): string {
  if (sheet.kind === 'focus-stack') {
    const { plan } = planFocusStack(sheet.request);
    const { request } = sheet;
    return plan
      ? `${plan.slices.length} frames at ${formatFNumber(request.fNumber)}, ${request.drive === 'rail' ? readableLength(request.depthMm) : `${readableLength(request.nearestMm)} to ${request.farthestMm === null ? '∞' : readableLength(request.farthestMm)}`}`
      : 'cannot be planned yet';
  }
  if (sheet.kind === 'panorama') {
    const { plan } = planPanorama(sheet.request);
    return plan
      ? `${plan.frames} frames at ${Number(plan.focalLengthMm.toPrecision(3))} mm, ${plan.canvas.megapixels.toFixed(0)} MP`
      : 'cannot be planned yet';
  }
  const { plan } = planBracket(sheet.request);
  return plan ? `${plan.frames} frames in steps of ${sheet.request.stepEv} EV` : 'cannot be planned yet';
}
