// Finish: the picture cut and judged as a print, what stands against signing it, the signature, and the delivery.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { Finding, Finish, Job, Merge, ViewingSettings } from '@blendrak/contract';
import { viewingOf } from '@blendrak/core/print';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { useFindings, useJob, useMerge } from '../../shared/queries';
import { CutForm } from './CutForm';
import { DeliveryForm } from './DeliveryForm';
import { FillEdges } from './FillEdges';
import { Part } from './Part';
import { PictureSide } from './PictureSide';
import { PrintPart } from './PrintPart';
import { printAnswer, printedSize, reaching } from './printWords';
import { SignForm } from './SignForm';
import { Standing } from './Standing';
import { useCutDraft } from './useCutDraft';
import { useFinish, useFinishWork } from './useFinish';

export function FinishScreen() {
  const { jobId } = useParams();
  const job = useJob(jobId);
  const mergeId = job.data?.summary.mergeId;
  const merge = useMerge(mergeId);
  const findings = useFindings(mergeId);
  const finish = useFinish(mergeId);
  const trouble = job.error ?? merge.error ?? findings.error ?? finish.error;
  if (job.data && !mergeId)
    return <Typography sx={{ p: 3 }}>There is no merge to finish yet: align and merge the frames first.</Typography>;
  if (job.data && merge.data && findings.data && finish.data)
    return (
      <Finishing
        key={merge.data.id}
        job={job.data}
        merge={merge.data}
        findings={findings.data.items}
        finish={finish.data}
      />
    );
  return (
    <Typography sx={{ p: 3 }} color={trouble ? 'error' : undefined}>
      {trouble ? wordsOf(trouble) : 'Loading …'}
    </Typography>
  );
}

interface FinishingProps {
  readonly job: Job;
  readonly merge: Merge;
  readonly findings: readonly Finding[];
  readonly finish: Finish;
}

/** A print that is thought of while none was chosen: about the size of a sheet at home. */
const USUAL_PRINT: ViewingSettings = { kind: 'print', longSideMm: 600, distanceMm: null };

function Finishing({ job, merge, findings, finish }: FinishingProps) {
  const work = useFinishWork(merge.id, job.summary.id);
  const draft = useCutDraft(merge, finish, work.cut);
  const [by, setBy] = useState('');
  const [stand, setStand] = useState<number | null>(null);
  const { cut } = draft;
  const isLocked = finish.signature !== null;
  const size = printedSize(merge, cut);
  const print = job.viewing.kind === 'print' ? job.viewing : USUAL_PRINT;
  const way = viewingOf(print, size);
  const distanceMm = stand ?? way.distanceMm;
  const reach = reaching(findings, way.pitchMm);
  const delivery = job.work.filter((w) => w.kind === 'deliver').at(-1) ?? null;
  const problemOf = (error: Error | null): string | null => error && wordsOf(error);
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <PictureSide
        {...{ merge, cut, isLocked, distanceMm }}
        isDrawing={draft.isDrawing}
        pitchMm={way.pitchMm}
        aspect={Number.isNaN(draft.aspect) ? null : draft.aspect}
        findings={reach}
        onCrop={draft.crop}
        onLean={draft.level}
        onDistance={setStand}
      />
      <Box
        component="aside"
        aria-label="Finish"
        sx={{
          width: 400,
          flex: 'none',
          overflow: 'auto',
          borderLeft: `1px solid ${GREY.rule}`,
          p: 2,
          display: 'grid',
          gap: 2,
          alignContent: 'start',
        }}
      >
        <Part title="Cut">
          <CutForm
            size={merge}
            cut={cut}
            cost={draft.cost}
            tilt={finish.tilt}
            shape={draft.shape[0]}
            own={draft.shape[1]}
            isLocked={isLocked}
            isChanged={draft.isChanged}
            isDrawing={draft.isDrawing}
            problem={problemOf(draft.error)}
            onShape={draft.choose}
            onPropose={draft.propose}
            onDraw={draft.draw}
            onKeep={draft.keep}
            onWhole={draft.whole}
          />
        </Part>
        <FillEdges mergeId={merge.id} findings={findings} isLocked={isLocked} />
        <PrintPart
          viewing={job.viewing}
          print={print}
          answer={print.kind === 'print' ? printAnswer(size, print, findings) : null}
          onChange={(viewing) => work.view.mutate(viewing)}
        />
        <Part title="What stands against signing">
          <Standing
            jobId={job.summary.id}
            obstacles={finish.obstacles}
            {...{ isLocked, by }}
            onWaive={(order) => {
              setBy(order.by);
              work.waive.mutate(order);
            }}
          />
          <Problem words={problemOf(work.waive.error)} />
        </Part>
        <Reshoot lines={finish.reshoot} />
        <Part title="Signature">
          <SignForm
            {...{ finish, by }}
            isUnkept={draft.isChanged}
            problem={problemOf(work.sign.error ?? work.openAgain.error)}
            onName={setBy}
            onSign={(order) => work.sign.mutate(order)}
            onOpenAgain={() => work.openAgain.mutate()}
          />
        </Part>
        <Part title="Delivery">
          <DeliveryForm
            isSigned={isLocked}
            work={delivery}
            problem={problemOf(work.deliver.error)}
            onDeliver={(order) => work.deliver.mutate(order)}
          />
          <Button
            component="a"
            href={`/api/merges/${merge.id}/report.pdf`}
            download
            color="inherit"
            sx={{ justifySelf: 'start' }}
          >
            Report as it stands, PDF
          </Button>
        </Part>
      </Box>
    </Box>
  );
}

function Reshoot({ lines }: { readonly lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <Part title="To be shot again">
      {lines.map((line) => (
        <Typography key={line} variant="body2">
          {line}
        </Typography>
      ))}
    </Part>
  );
}

function Problem({ words }: { readonly words: string | null }) {
  return (
    words && (
      <Typography role="alert" variant="body2" color="error">
        {words}
      </Typography>
    )
  );
}
