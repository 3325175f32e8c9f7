// One plan: what is asked on the left, what follows from it on the right.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { visuallyHidden } from '@mui/utils';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Plan, PlanSheetRecord } from '@blendrak/contract';
import { planBracket, planFocusStack, planPanorama, type FieldProblem } from '@blendrak/core/plan';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { BracketAnswer } from './answers/BracketAnswer';
import { FocusAnswer } from './answers/FocusAnswer';
import { PanoramaAnswer } from './answers/PanoramaAnswer';
import { BracketForm } from './BracketForm';
import { CardFields } from './CardFields';
import { FocusForm } from './FocusForm';
import { PanoramaForm } from './PanoramaForm';
import { planApi } from './planApi';
import { PlanLessons } from './PlanLessons';
import { ShootDialog } from './ShootDialog';
import { PLAN_KEYS, useAddPlan, usePlan, usePlanDraft, type PlanDraft, type SaveState } from './usePlan';

export function PlanScreen() {
  const { planId = '' } = useParams();
  const plan = usePlan(planId);
  if (plan.isPending) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (plan.isError)
    return (
      <Typography color="error" sx={{ p: 3 }}>
        {wordsOf(plan.error)}
      </Typography>
    );
  return <PlanEditor key={planId} plan={plan.data} />;
}

function PlanEditor({ plan }: { readonly plan: Plan }) {
  const draft = usePlanDraft(plan);
  const { sheet, change } = draft;
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto 1fr', minHeight: 0 }}>
      <PlanHead plan={plan} draft={draft} />
      <Box sx={{ display: 'grid', gridTemplateColumns: '372px 1fr', minHeight: 0 }}>
        <Sides sheet={sheet} onChange={change} />
      </Box>
    </Box>
  );
}

/** Form and answer of the plan's kind. */
function Sides({ sheet, onChange }: { readonly sheet: PlanSheetRecord; onChange(sheet: PlanSheetRecord): void }) {
  const answer = useMemo(() => answerOf(sheet), [sheet]);
  const problems: readonly FieldProblem[] = answer.problems;
  return (
    <>
      <Box
        component="section"
        aria-label="What is asked"
        sx={{
          overflow: 'auto',
          p: 2,
          pt: 2,
          borderRight: `1px solid ${GREY.rule}`,
          display: 'grid',
          gap: 2.5,
          alignContent: 'start',
        }}
      >
        <PlanLessons sheet={sheet} onChange={onChange} />
        {sheet.kind === 'focus-stack' && <FocusForm sheet={sheet} problems={problems} onChange={onChange} />}
        {sheet.kind === 'panorama' && <PanoramaForm sheet={sheet} problems={problems} onChange={onChange} />}
        {sheet.kind === 'bracket' && <BracketForm sheet={sheet} problems={problems} onChange={onChange} />}
        <CardFields
          notes={sheet.notes}
          cautions={sheet.cautions}
          onChange={(part) => onChange({ ...sheet, ...part })}
        />
      </Box>
      <Box component="section" aria-label="The plan" sx={{ overflow: 'auto', p: 2, minWidth: 0 }}>
        {answer.kind === 'focus-stack' && <FocusAnswer {...answer} onChange={onChange} />}
        {answer.kind === 'panorama' && <PanoramaAnswer {...answer} onChange={onChange} />}
        {answer.kind === 'bracket' && <BracketAnswer {...answer} />}
      </Box>
    </>
  );
}

function answerOf(sheet: PlanSheetRecord) {
  if (sheet.kind === 'focus-stack') {
    const answer = planFocusStack(sheet.request);
    return { kind: sheet.kind, sheet, answer, problems: answer.problems } as const;
  }
  if (sheet.kind === 'panorama') {
    const answer = planPanorama(sheet.request);
    return { kind: sheet.kind, sheet, answer, problems: answer.problems } as const;
  }
  const answer = planBracket(sheet.request);
  return { kind: sheet.kind, sheet, answer, problems: answer.problems } as const;
}

function PlanHead({ plan, draft }: { readonly plan: Plan; readonly draft: PlanDraft }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [shooting, setShooting] = useState(false);
  const copy = useAddPlan((made) => void navigate(`/plan/${made.id}`));
  const remove = async (): Promise<void> => {
    if (!window.confirm(`Remove the plan “${draft.name}”? Jobs keep the copy they were attached to.`)) return;
    await draft.flush();
    await planApi.removePlan(plan.id);
    await client.invalidateQueries({ queryKey: PLAN_KEYS.all, exact: true });
    void navigate('/plan');
  };
  const unnamed = draft.name.trim() === '';
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, px: 2, py: 1, borderBottom: `1px solid ${GREY.rule}` }}>
      <Typography variant="h1" sx={visuallyHidden}>
        Plan: {draft.name}
      </Typography>
      <Button component={Link} to="/plan">
        All plans
      </Button>
      <TextField
        size="small"
        value={draft.name}
        error={unnamed}
        onChange={(event) => draft.rename(event.target.value.slice(0, 120))}
        slotProps={{ htmlInput: { 'aria-label': 'Name of the plan' } }}
        sx={{ width: 330 }}
      />
      <Saved state={unnamed ? { problem: 'A name is needed.' } : draft.state} />
      <Box sx={{ flex: 1 }} />
      <Button onClick={() => copy.mutate({ name: `${draft.name.slice(0, 112)}, copy`, sheet: draft.sheet })}>
        Duplicate
      </Button>
      <Button onClick={() => void remove()}>Remove</Button>
      <Button variant="outlined" onClick={() => setShooting(true)}>
        Shoot it …
      </Button>
      <Button variant="contained" onClick={() => void draft.flush().then(() => navigate(`/plan/${plan.id}/card`))}>
        Capture card
      </Button>
      {shooting && (
        <ShootDialog
          planId={plan.id}
          kind={draft.sheet.kind}
          beforeShoot={draft.flush}
          onClose={() => setShooting(false)}
        />
      )}
    </Box>
  );
}

function Saved({ state }: { readonly state: SaveState }) {
  if (typeof state === 'object')
    return (
      <Typography role="alert" color="error">
        Not saved: {state.problem}
      </Typography>
    );
  return (
    <Typography role="status" variant="body2" color="text.secondary">
      {state === 'saved' ? 'Saved' : 'Saving …'}
    </Typography>
  );
}
