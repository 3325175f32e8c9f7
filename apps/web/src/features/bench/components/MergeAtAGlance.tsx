// The merge while no finding is open: how it stands, what was found by kind, what its frames give.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Finding } from '@blendrak/contract';
import { GREY, MONO } from '../../../app/theme';
import { DEFECT_LOOKS, DefectSign } from '../../../shared/defects';
import type { BenchMerge } from '../../../shared/queries';
import { residualWords, worstResidual } from '../../../shared/residuals';
import { verdictOf } from '../verdict';
import { lookedForWords } from './FindingQueue';

/** Fewer false alarms than this are not worth a line. */
const LEAST_TOLD = 0.1;

export function MergeAtAGlance({ merge }: { merge: BenchMerge }) {
  const open = merge.findings.filter((f) => f.decision === 'open');
  const kinds = [...new Set(open.map((f) => f.defect))];
  const used = merge.frames.filter((f) => f.share > 0).length;
  const worst = worstResidual(merge.frames);
  // Of findings that are each so sure, so many are expected to be none.
  const unreal = open.reduce((sum, f) => sum + 1 - f.confidence, 0);
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <Typography variant="h2">{verdictOf(merge)}</Typography>
      {kinds.length > 0 && (
        <Box component="ul" aria-label="Open findings by defect" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {kinds.map((defect) => (
            <Count key={defect} findings={open.filter((f) => f.defect === defect)} />
          ))}
        </Box>
      )}
      {unreal >= LEAST_TOLD && (
        <Typography variant="body2">
          As sure as they are, about {unreal.toFixed(1)} of the {open.length} may be nothing.
        </Typography>
      )}
      <Typography variant="body2">
        {used} of {merge.frames.length} frames are shown;{' '}
        {worst
          ? `at most ${residualWords(worst.residualPx)} px are left between them.`
          : 'how far they miss each other is not known.'}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        Open a finding in the queue, or press N for the next one. Rest the pointer on any place to see how each frame
        shows it.
      </Typography>
      <Typography variant="body2" color="text.secondary">
        {lookedForWords(merge)}
      </Typography>
    </Box>
  );
}

function Count({ findings }: { findings: readonly Finding[] }) {
  const { defect } = findings[0]!;
  const worst = Math.max(...findings.map((f) => f.severity));
  return (
    <Box component="li" sx={{ display: 'flex', alignItems: 'center', gap: 1, py: 0.25 }}>
      <DefectSign defect={defect} size={15} />
      <Box component="span" sx={{ fontSize: 12.5 }}>
        {DEFECT_LOOKS[defect].name}
      </Box>
      <Box
        component="span"
        sx={{ ml: 'auto', fontFamily: MONO, fontSize: 11, color: GREY.quiet, whiteSpace: 'nowrap' }}
      >
        {findings.length} · up to {worst}
      </Box>
    </Box>
  );
}
