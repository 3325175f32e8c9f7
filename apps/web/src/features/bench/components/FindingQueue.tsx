// The queue of findings, most visible first: narrow, so that the picture has the room.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { memo, useMemo } from 'react';
import type { DefectWord, Finding } from '@blendrak/contract';
import type { PlacedOperation } from '@blendrak/core/repair';
import type { BenchMerge } from '../../../shared/queries';
import { GREY, MONO } from '../../../app/theme';
import { DEFECT_LOOKS, DefectSign } from '../../../shared/defects';
import { LongList } from '../../../shared/LongList';
import { placePicture } from '../placePicture';
import { useBench } from '../store';

const WIDTH_PX = 104;
const THUMBNAIL_PX = 84;
const ROW_PX = 106;

const DECIDED: Record<Finding['decision'], string> = {
  open: '',
  repaired: 'repaired',
  accepted: 'accepted',
  reshoot: 'reshoot',
  'not-a-defect': 'no defect',
};

interface QueueProps {
  readonly merge: BenchMerge;
  /** Operations in force. */
  readonly inForce: readonly PlacedOperation[];
  onOpen(id: string): void;
}

/** Rendered anew only when what it shows has changed, not with every stroke that is on its way. */
export const FindingQueue = memo(function FindingQueue({ merge, inForce, onOpen }: QueueProps) {
  const { findings } = merge;
  const openFinding = useBench((s) => s.openFinding);
  const open = findings.filter((f) => f.decision === 'open').length;
  return (
    <Box
      component="nav"
      aria-label="Findings"
      sx={{
        width: WIDTH_PX,
        flex: 'none',
        borderRight: `1px solid ${GREY.rule}`,
        display: 'flex',
        flexDirection: 'column',
        minHeight: 0,
      }}
    >
      <Typography variant="h3" sx={{ px: 1, height: 34, display: 'flex', alignItems: 'center', flex: 'none' }}>
        {open === 0 ? 'Nothing open' : `${open} to settle`}
      </Typography>
      <LongList
        count={findings.length}
        rowPx={ROW_PX}
        keyOf={(k) => findings[k]!.id}
        row={(k) => <QueueItem merge={merge} inForce={inForce} finding={findings[k]!} onOpen={onOpen} />}
        current={findings.findIndex((f) => f.id === openFinding)}
      />
      {findings.length === 0 && (
        <Typography sx={{ px: 1, flex: 1 }} variant="body2" color="text.secondary">
          The inspection found nothing to report. Looking yourself is still worth it.
        </Typography>
      )}
    </Box>
  );
});

function QueueItem({ merge, inForce, finding, onOpen }: QueueProps & { finding: Finding }) {
  const isCurrent = useBench((s) => s.openFinding === finding.id);
  const url = useMemo(() => placePicture(merge, inForce, finding.bbox, PICTURE_PX), [finding.bbox, inForce, merge]);
  const settled = finding.decision !== 'open';
  const { name } = DEFECT_LOOKS[finding.defect];
  return (
    <ButtonBase
      onClick={() => onOpen(finding.id)}
      aria-current={isCurrent}
      aria-label={`${name}, severity ${finding.severity}${settled ? `, ${DECIDED[finding.decision]}` : ''}`}
      title={`${name}: ${finding.bbox.width} × ${finding.bbox.height} px`}
      sx={{
        width: '100%',
        height: ROW_PX,
        display: 'block',
        px: 1,
        py: 0.5,
        textAlign: 'left',
        bgcolor: isCurrent ? GREY.raised : 'transparent',
        boxShadow: isCurrent ? `inset 3px 0 0 ${GREY.text}` : 'none',
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'flex-end' }}>
        <Box
          sx={{ width: THUMBNAIL_PX - 22, height: 62, overflow: 'hidden', bgcolor: '#777', opacity: settled ? 0.6 : 1 }}
        >
          <img src={url} alt="" width={62} height={62} style={{ objectFit: 'cover' }} loading="lazy" />
        </Box>
        <Box sx={{ display: 'flex', flexDirection: 'column', alignItems: 'center', gap: 0.5 }}>
          <DefectSign defect={finding.defect} size={17} />
          <Box component="span" sx={{ fontSize: 12, fontFamily: MONO }}>
            {finding.severity}
          </Box>
        </Box>
      </Box>
      <Typography
        noWrap
        sx={{ fontSize: 11.5, fontWeight: settled ? 400 : 600, color: settled ? GREY.quiet : GREY.text }}
      >
        {settled ? DECIDED[finding.decision] : name}
      </Typography>
      <Typography noWrap sx={{ fontSize: 10.5, color: GREY.quiet, fontFamily: MONO }}>
        {finding.bbox.width}×{finding.bbox.height}
      </Typography>
    </ButtonBase>
  );
}

const PICTURE_PX = 104;

/** What the inspection looked for, and what it leaves to the eye. */
export function lookedForWords({ lookedFor, leftToTheEye }: BenchMerge): string {
  const names = (defects: readonly DefectWord[]): string =>
    defects.map((d) => DEFECT_LOOKS[d].name.toLowerCase()).join(', ');
  const looked = lookedFor.length > 0 ? `Looked for: ${names(lookedFor)}.` : 'This merge was not inspected.';
  return leftToTheEye.length > 0 ? `${looked} Look yourself for: ${names(leftToTheEye)}.` : looked;
}
