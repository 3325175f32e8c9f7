// The open finding: what was measured, why that means this defect, what to do, and the decision.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { memo, useState, type ReactNode } from 'react';
import type { Decision, Finding, ViewingSettings } from '@blendrak/contract';
import { GREY, MONO } from '../../../app/theme';
import { api, wordsOf } from '../../../shared/api';
import { DEFECT_LOOKS, DefectSign } from '../../../shared/defects';
import type { Command } from '../../../shared/commands/keys';
import { keepFindings, KEYS, knownRevision, type BenchMerge } from '../../../shared/queries';
import { evidenceOf } from '../evidenceWords';
import { FillOffer } from './FillOffer';
import { ProposalCard } from '../proposals/ProposalCard';
import type { Proposing } from '../proposals/useProposals';
import { useBench } from '../store';
import { viewingOf } from '@blendrak/core/print';
import { Measures } from './Measures';

const WIDTH_PX = 212;
/** On narrow screens the card lies over the picture instead of beside it, and over nothing else. */
const NARROW = '@media (max-width: 1150px)';
/** Height of the row above the picture, and of what lies below it but for the patches. */
const BAR_PX = 34;
const BELOW_PX = 76;

interface FindingCardProps {
  readonly merge: BenchMerge;
  readonly finding: Finding | null;
  readonly viewing: ViewingSettings;
  readonly proposing: Proposing;
  readonly fold: Command;
  /** What is shown while no finding is open, and what it is called. */
  readonly title: string;
  readonly children: ReactNode;
}

/** Rendered anew only when what it shows has changed, not with every stroke that is on its way. */
export const FindingCard = memo(function FindingCard({
  merge,
  finding,
  viewing,
  proposing,
  fold,
  title: other,
  children,
}: FindingCardProps) {
  const isOpen = useBench((s) => s.layout.isCardOpen);
  const side = useBench((s) => s.layout.patchPx);
  const title = finding ? DEFECT_LOOKS[finding.defect].name : other;
  return (
    <Box
      component="aside"
      aria-label="Finding"
      sx={{ flex: 'none', display: 'flex', borderLeft: `1px solid ${GREY.rule}`, position: 'relative', minHeight: 0 }}
    >
      <ButtonBase
        aria-expanded={isOpen}
        aria-label={`${isOpen ? 'Fold the card' : 'Open the card'}: ${title}`}
        title={`${fold.label} (${fold.shown})`}
        onClick={() => fold.run(true)}
        sx={{ width: 20, alignItems: 'flex-start', pt: 1, bgcolor: GREY.panel, '&:hover': { bgcolor: GREY.raised } }}
      >
        <Box
          component="span"
          sx={{ writingMode: 'vertical-rl', fontSize: 12, color: GREY.quiet, whiteSpace: 'nowrap' }}
        >
          {isOpen ? '▸' : `◂ ${title}`}
        </Box>
      </ButtonBase>
      {isOpen && (
        <Box
          sx={{
            width: WIDTH_PX,
            overflow: 'auto',
            p: 1.25,
            [NARROW]: {
              position: 'absolute',
              right: 20,
              top: BAR_PX,
              bottom: side + BELOW_PX,
              bgcolor: GREY.page,
              borderLeft: `1px solid ${GREY.rule}`,
              zIndex: 2,
            },
          }}
        >
          {finding ? <Card key={finding.id} {...{ merge, finding, viewing, proposing }} /> : children}
        </Box>
      )}
    </Box>
  );
});

interface CardProps {
  readonly merge: BenchMerge;
  readonly finding: Finding;
  readonly viewing: ViewingSettings;
  readonly proposing: Proposing;
}

function Card({ merge, finding, viewing, proposing }: CardProps) {
  const donorName = finding.donor === null ? null : merge.frames[finding.donor]!.fileName;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <DefectSign defect={finding.defect} size={22} />
        <Typography variant="h2">{DEFECT_LOOKS[finding.defect].name}</Typography>
      </Box>
      <Typography sx={{ fontFamily: MONO, fontSize: 12, mt: -1 }}>
        {finding.repairable ? 'repairable' : 'not repairable'}
      </Typography>
      <Typography>{finding.cause}</Typography>
      <Measures rows={evidenceOf(finding, viewingOf(viewing, merge))} />
      <Typography variant="body2">{finding.advice}</Typography>
      {finding.recheck && (
        <Typography role="status" variant="body2" sx={{ borderLeft: `3px solid ${GREY.quiet}`, pl: 1 }}>
          {finding.recheck}
        </Typography>
      )}
      <ProposalCard merge={merge} finding={finding} proposing={proposing} />
      {donorName !== null && finding.decision === 'open' && (
        <Button variant="outlined" onClick={() => useBench.getState().takeDonor(finding.donor)}>
          Paint with {donorName} (D)
        </Button>
      )}
      <FillOffer finding={finding} />
      <DecisionPanel finding={finding} />
    </Box>
  );
}

function DecisionPanel({ finding }: { finding: Finding }) {
  const client = useQueryClient();
  const [reason, setReason] = useState(finding.reason);
  const decide = useMutation({
    mutationFn: (decision: Decision) =>
      api.decide(finding.id, knownRevision(client, KEYS.findings(finding.mergeId)), decision, reason),
    onSuccess: (changes) => keepFindings(client, finding.mergeId, changes),
  });
  if (finding.decision !== 'open') {
    return (
      <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1.5 }}>
        <Typography>
          Settled: <b>{finding.decision.replaceAll('-', ' ')}</b>
          {finding.reason ? `, “${finding.reason}”` : ''}
        </Typography>
        <Button color="inherit" onClick={() => decide.mutate('open')}>
          Open again
        </Button>
      </Box>
    );
  }
  return (
    <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1.5, display: 'flex', flexDirection: 'column', gap: 1 }}>
      <TextField
        size="small"
        label="Reason"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        multiline
        maxRows={3}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}>
        {finding.byHand && (
          <Button variant="outlined" onClick={() => decide.mutate('repaired')}>
            Repaired
          </Button>
        )}
        <Button variant="outlined" onClick={() => decide.mutate('accepted')}>
          Accept
        </Button>
        <Button variant="outlined" onClick={() => decide.mutate('reshoot')}>
          Reshoot
        </Button>
        <Button variant="outlined" onClick={() => decide.mutate('not-a-defect')}>
          Not a defect
        </Button>
      </Box>
      {decide.isError && (
        <Typography role="alert" variant="body2" color="error">
          {wordsOf(decide.error)}
        </Typography>
      )}
    </Box>
  );
}
