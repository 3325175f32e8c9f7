// The queue of findings, most visible first.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import type { DefectWord, Finding } from '@blendrak/contract';
import type { PaintedMerge } from '../../../shared/queries';
import { GREY, MONO } from '../../../app/theme';
import { tileUrl } from '../../../shared/api';
import { DEFECT_LOOKS, DefectSign } from '../../../shared/defects';
import { useBench } from '../store';
import { strokeAt } from '../strokeAt';

const DECIDED: Record<Finding['decision'], string> = {
  open: '',
  repaired: 'repaired',
  accepted: 'accepted',
  reshoot: 'reshoot',
  'not-a-defect': 'no defect',
};

export function FindingQueue({ merge, onOpen }: { merge: PaintedMerge; onOpen: (id: string) => void }) {
  const current = useBench((s) => s.openFinding);
  const open = merge.findings.filter((f) => f.decision === 'open').length;
  return (
    <Box
      component="nav"
      aria-label="Findings"
      sx={{ width: 190, borderRight: `1px solid ${GREY.rule}`, display: 'flex', flexDirection: 'column', minHeight: 0 }}
    >
      <Typography variant="h3" sx={{ px: 1.5, py: 1 }}>
        {open === 0 ? 'Nothing open' : `${open} to settle`}
      </Typography>
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0, overflow: 'auto', flex: 1 }}>
        {merge.findings.map((finding) => (
          <li key={finding.id}>
            <QueueItem
              merge={merge}
              finding={finding}
              current={finding.id === current}
              onOpen={() => onOpen(finding.id)}
            />
          </li>
        ))}
      </Box>
      {merge.findings.length === 0 && (
        <Typography sx={{ px: 1.5 }} variant="body2" color="text.secondary">
          The inspection found nothing to report. Looking yourself is still worth it.
        </Typography>
      )}
      <LookedFor merge={merge} />
    </Box>
  );
}

/** What the inspection looked for, and what it leaves to the eye. */
function LookedFor({ merge: { lookedFor, leftToTheEye } }: { merge: PaintedMerge }) {
  const names = (defects: readonly DefectWord[]): string =>
    defects.map((d) => DEFECT_LOOKS[d].name.toLowerCase()).join(', ');
  return (
    <Typography variant="body2" color="text.secondary" sx={{ mt: 'auto', p: 1.5, borderTop: `1px solid ${GREY.rule}` }}>
      {lookedFor.length > 0 ? `Looked for: ${names(lookedFor)}.` : 'This merge was not inspected.'}
      {leftToTheEye.length > 0 && ` Look yourself for: ${names(leftToTheEye)}.`}
    </Typography>
  );
}

function QueueItem({
  merge,
  finding,
  current,
  onOpen,
}: {
  merge: PaintedMerge;
  finding: Finding;
  current: boolean;
  onOpen: () => void;
}) {
  const settled = finding.decision !== 'open';
  return (
    <ButtonBase
      onClick={onOpen}
      aria-current={current}
      aria-label={`${DEFECT_LOOKS[finding.defect].name}, severity ${finding.severity}${settled ? `, ${DECIDED[finding.decision]}` : ''}`}
      sx={{
        width: '100%',
        display: 'grid',
        gridTemplateColumns: '52px 1fr',
        gap: 1,
        p: 1,
        textAlign: 'left',
        alignItems: 'center',
        bgcolor: current ? GREY.raised : 'transparent',
        boxShadow: current ? `inset 3px 0 0 ${GREY.text}` : 'none',
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <Box sx={{ width: 52, height: 52, overflow: 'hidden', bgcolor: '#777', opacity: settled ? 0.6 : 1 }}>
        <img
          src={thumbnail(merge, finding)}
          alt=""
          width={52}
          height={52}
          style={{ objectFit: 'cover' }}
          loading="lazy"
        />
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
          <DefectSign defect={finding.defect} size={15} />
          <Typography noWrap sx={{ fontSize: 12.5, fontWeight: 600 }}>
            {DEFECT_LOOKS[finding.defect].name}
          </Typography>
        </Box>
        <Typography sx={{ fontSize: 11.5, color: GREY.quiet, fontFamily: MONO }}>
          {settled ? DECIDED[finding.decision] : `${finding.severity} · ${finding.bbox.width}×${finding.bbox.height}`}
        </Typography>
      </Box>
    </ButtonBase>
  );
}

/** The place itself, cut square. */
function thumbnail(merge: PaintedMerge, { bbox }: Finding): string {
  const side = Math.min(merge.width, merge.height, Math.max(120, bbox.width, bbox.height));
  const x = Math.round(Math.min(merge.width - side, Math.max(0, bbox.x + bbox.width / 2 - side / 2)));
  const y = Math.round(Math.min(merge.height - side, Math.max(0, bbox.y + bbox.height / 2 - side / 2)));
  const region = { x, y, width: side, height: side };
  return tileUrl(`r-${merge.id}`, region, '104,104', strokeAt(merge.strokes, region, side / 104));
}
