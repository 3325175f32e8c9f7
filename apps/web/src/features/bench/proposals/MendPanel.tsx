// Repairs worked out for all findings at once: asked for, watched, looked through and kept.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { isMendable, type Finding, type Proposal } from '@blendrak/contract';
import { SEEN } from '@blendrak/core/print';
import { GREY } from '../../../app/theme';
import { DEFECT_LOOKS, DefectSign } from '../../../shared/defects';
import type { BenchMerge } from '../../../shared/queries';
import { WorkProgress } from '../../../shared/WorkProgress';
import { repairWords, stateWords, withoutRepair } from './proposalWords';
import type { Proposing } from './useProposals';

interface MendPanelProps {
  readonly merge: BenchMerge;
  readonly proposing: Proposing;
  onOpen(findingId: string): void;
}

export function MendPanel({ merge, proposing, onOpen }: MendPanelProps) {
  const { proposals, work, workOut, choose } = proposing;
  const [over, setOver] = useState(String(SEEN));
  const least = over.trim() === '' ? NaN : Number(over);
  const isUsable = least >= 0 && least <= 100;
  const mendable = merge.findings.filter((f) => f.decision === 'open' && isMendable(f) && f.severity >= least);
  const waiting = merge.findings.flatMap((finding) => {
    const proposal = proposals.find((p) => p.findingId === finding.id && p.state === 'waiting');
    return proposal && finding.decision === 'open' ? [{ finding, proposal }] : [];
  });
  const closing = waiting.filter(({ proposal }) => proposal.closes).map(({ proposal }) => proposal.id);
  if (!work && waiting.length === 0 && !merge.findings.some((f) => f.decision === 'open' && isMendable(f))) return null;
  return (
    <Box
      component="section"
      aria-label="Repairs by themselves"
      sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1, display: 'flex', flexDirection: 'column', gap: 1 }}
    >
      <Typography variant="h3">Repairs worked out for you</Typography>
      {work ? (
        <WorkProgress work={work} />
      ) : (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'flex-start' }}>
          <TextField
            size="small"
            label="Visible above"
            value={over}
            onChange={(e) => setOver(e.target.value)}
            error={!isUsable}
            helperText={isUsable ? undefined : '0 to 100'}
            sx={{ width: 96 }}
          />
          <Button
            variant="outlined"
            disabled={!isUsable || mendable.length === 0}
            onClick={() => workOut({ over: least })}
            sx={{ flex: 1 }}
          >
            Work out {mendable.length}
          </Button>
        </Box>
      )}
      {waiting.length > 0 && (
        <Box component="ul" aria-label="Proposed repairs" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {waiting.map(({ finding, proposal }) => (
            <Row key={proposal.id} {...{ merge, finding, proposal, onOpen }} />
          ))}
        </Box>
      )}
      {closing.length > 0 && (
        <Button variant="contained" onClick={() => choose({ keep: closing })}>
          {closing.length === 1 ? 'Keep the one that closes' : `Keep the ${closing.length} that close`}
        </Button>
      )}
    </Box>
  );
}

interface RowProps extends Pick<MendPanelProps, 'merge' | 'onOpen'> {
  readonly finding: Finding;
  readonly proposal: Proposal;
}

function Row({ merge, finding, proposal, onOpen }: RowProps) {
  const state = stateWords(proposal);
  const words = repairWords(merge, proposal) ?? withoutRepair(proposal);
  return (
    <Box component="li">
      <ButtonBase
        onClick={() => onOpen(finding.id)}
        aria-label={`${DEFECT_LOOKS[finding.defect].name}: ${words}, ${state}`}
        sx={{ width: '100%', minHeight: 24, display: 'flex', gap: 1, alignItems: 'center', textAlign: 'left' }}
      >
        <DefectSign defect={finding.defect} size={15} />
        <Typography noWrap sx={{ flex: 1, minWidth: 0, fontSize: 12 }}>
          {words}
        </Typography>
        <Typography sx={{ fontSize: 11, color: GREY.quiet, whiteSpace: 'nowrap' }}>{state}</Typography>
      </ButtonBase>
    </Box>
  );
}
