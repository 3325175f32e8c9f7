// On the card of a finding: the repair that is proposed for it, with the place before and after.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { Finding } from '@blendrak/contract';
import type { PlacedOperation } from '@blendrak/core/repair';
import { GREY } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';
import { WorkProgress } from '../../../shared/WorkProgress';
import { useInForce } from '../hooks/useLayers';
import { placePicture } from '../placePicture';
import { outcomeWords, repairWords } from './proposalWords';
import { useProposed, type Proposing } from './useProposals';

const SIDE_PX = 90;

interface ProposalCardProps {
  readonly merge: BenchMerge;
  readonly finding: Finding;
  readonly proposing: Proposing;
}

export function ProposalCard({ merge, finding, proposing }: ProposalCardProps) {
  const { proposals, work, workOut, choose } = proposing;
  const proposal = proposals.find((p) => p.findingId === finding.id);
  const proposed = useProposed(proposal);
  if (!proposal || proposal.state === 'refused' || (proposal.state === 'kept' && finding.decision === 'open')) {
    if (finding.donor === null || finding.decision !== 'open') return null;
    if (work) return <WorkProgress work={work} />;
    return (
      <Button variant="contained" onClick={() => workOut({ findingId: finding.id })}>
        Work out a repair
      </Button>
    );
  }
  const words = repairWords(merge, proposal);
  const ids = [proposal.id];
  return (
    <Box
      component="section"
      aria-label="Proposed repair"
      sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1, display: 'flex', flexDirection: 'column', gap: 0.75 }}
    >
      <Typography variant="h3">{proposal.state === 'kept' ? 'Repair that was kept' : 'Proposed repair'}</Typography>
      {words && <Typography variant="body2">{words}</Typography>}
      {proposed && <BeforeAfter merge={merge} finding={finding} proposed={proposed} />}
      <Typography role="status" variant="body2" sx={{ borderLeft: `3px solid ${GREY.quiet}`, pl: 1 }}>
        {outcomeWords(proposal)}
      </Typography>
      {proposed && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75 }}>
          <Button variant="contained" onClick={() => choose({ keep: ids })}>
            Keep it (Y)
          </Button>
          <Button variant="outlined" onClick={() => choose({ refuse: ids })}>
            Refuse
          </Button>
        </Box>
      )}
      {proposed && (
        <Typography variant="body2" color="text.secondary">
          Hold Z to see it in place.
        </Typography>
      )}
    </Box>
  );
}

interface BeforeAfterProps {
  readonly merge: BenchMerge;
  readonly finding: Finding;
  readonly proposed: PlacedOperation;
}

function BeforeAfter({ merge, finding, proposed }: BeforeAfterProps) {
  const inForce = useInForce(merge);
  const sides = [
    ['Now', inForce],
    ['Repaired', [...inForce, proposed]],
  ] as const;
  return (
    <Box sx={{ display: 'flex', gap: 1 }}>
      {sides.map(([name, operations]) => (
        <Box component="figure" key={name} sx={{ m: 0 }}>
          <img
            src={placePicture(merge, operations, finding.bbox, 2 * SIDE_PX)}
            alt={`${name}: the place of the finding`}
            width={SIDE_PX}
            height={SIDE_PX}
            style={{ display: 'block', background: '#777' }}
          />
          <Typography component="figcaption" sx={{ fontSize: 11, color: GREY.quiet }}>
            {name}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
