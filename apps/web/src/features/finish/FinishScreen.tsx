// Finish: the picture cut and judged as a print, what stands against signing it, the signature, and the delivery.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useMutation } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import type { Cut, Finding, Finish, Job, Merge, ViewingSettings } from '@blendrak/contract';
import { viewingOf } from '@blendrak/core/print';
import { GREY } from '../../app/theme';
import { api, wordsOf } from '../../shared/api';
import { useFindings, useJob, useMerge } from '../../shared/queries';
import { PrintFields } from '../../shared/viewing/PrintFields';
import { CutForm, aspectOf, type Shape } from './CutForm';
import { CutSheet } from './CutSheet';
import { DeliveryForm } from './DeliveryForm';
import { DistanceLine } from './DistanceLine';
import { FillEdges } from './FillEdges';
import { printAnswer, printedSize, reaching } from './printWords';
import { SignForm } from './SignForm';
import { Standing } from './Standing';
import { useFinish, useFinishWork } from './useFinish';
import { Wall } from './Wall';

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
  const [draft, setDraft] = useState<Cut | null>(null);
  const [shape, setShape] = useState<readonly [Shape, string]>(['any', '3:1']);
  const [view, setView] = useState<'cut' | 'wall'>('cut');
  const [isDrawing, setDrawing] = useState(false);
  const [by, setBy] = useState('');
  const [stand, setStand] = useState<number | null>(null);
  const cut = draft ?? finish.cut;
  const isLocked = finish.signature !== null;
  const aspect = aspectOf(...shape);
  const proposal = useMutation({
    mutationFn: (turnDeg: number) => api.proposeCut(merge.id, { turnDeg, aspect }),
    onSuccess: (proposed) => setDraft(proposed.cut),
  });
  const size = printedSize(merge, cut);
  const print = job.viewing.kind === 'print' ? job.viewing : USUAL_PRINT;
  const way = viewingOf(print, size);
  const distanceMm = stand ?? way.distanceMm;
  const reach = reaching(findings, way.pitchMm);
  const answer = print.kind === 'print' ? printAnswer(size, print, findings) : null;
  const isChanged = draft !== null && JSON.stringify(draft) !== JSON.stringify(finish.cut);
  const delivery = job.work.filter((w) => w.kind === 'deliver').at(-1) ?? null;
  const problemOf = (error: Error | null): string | null => error && wordsOf(error);
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', bgcolor: '#777' }}>
        <Box sx={{ height: 34, display: 'flex', alignItems: 'center', px: 1.5, bgcolor: GREY.page, flex: 'none' }}>
          <ToggleButtonGroup
            size="small"
            exclusive
            aria-label="How it is shown"
            value={view}
            onChange={(_event, next: 'cut' | 'wall' | null) => next && setView(next)}
            sx={{ '& .MuiToggleButton-root': { py: 0.1, px: 1 } }}
          >
            <ToggleButton value="cut">Cut</ToggleButton>
            <ToggleButton value="wall">On a wall, to scale</ToggleButton>
          </ToggleButtonGroup>
        </Box>
        <Box sx={{ flex: 1, minHeight: 0, p: view === 'cut' ? 2 : 0 }}>
          {view === 'cut' ? (
            <CutSheet
              {...{ merge, cut, isLocked, isDrawing, distanceMm }}
              aspect={Number.isNaN(aspect) ? null : aspect}
              findings={reach}
              onCrop={(crop) => setDraft({ ...cut, crop })}
              onLean={(lean) => {
                setDrawing(false);
                if (Math.abs(lean) <= 20) proposal.mutate(Number((-lean).toFixed(2)));
              }}
            />
          ) : (
            <Wall {...{ merge, cut, distanceMm }} pitchMm={way.pitchMm} findings={reach} />
          )}
        </Box>
        <Box sx={{ bgcolor: GREY.page, flex: 'none' }}>
          <DistanceLine distanceMm={distanceMm} findings={reach} onDistance={setStand} />
        </Box>
      </Box>
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
            cost={isChanged && proposal.data?.cut === draft ? proposal.data.cost : costOfDraft(merge, cut, finish)}
            tilt={finish.tilt}
            shape={shape[0]}
            own={shape[1]}
            {...{ isLocked, isChanged, isDrawing }}
            problem={problemOf(proposal.error ?? work.cut.error)}
            onShape={(next, own) => setShape([next, own])}
            onPropose={(turnDeg) => proposal.mutate(turnDeg)}
            onDraw={() => setDrawing(!isDrawing)}
            onKeep={() => work.cut.mutate(cut, { onSuccess: () => setDraft(null) })}
            onWhole={() => {
              setDraft(null);
              work.cut.mutate({ turnDeg: 0, crop: null });
            }}
          />
        </Part>
        <FillEdges mergeId={merge.id} findings={findings} isLocked={isLocked} />
        <Part title={answer ? answer.title : 'Print'}>
          {answer?.reasons.map((reason) => (
            <Typography key={reason} variant="body2">
              {reason}
            </Typography>
          ))}
          {print.kind === 'print' && (
            <PrintFields
              key={JSON.stringify(print)}
              settings={print}
              onChange={(viewing) => work.view.mutate(viewing)}
            />
          )}
          {job.viewing.kind === 'screen' && (
            <Typography variant="body2" color="text.secondary">
              The findings are judged on a screen so far: with Judge they are judged by this print.
            </Typography>
          )}
        </Part>
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
          {work.waive.error && (
            <Typography role="alert" variant="body2" color="error">
              {wordsOf(work.waive.error)}
            </Typography>
          )}
        </Part>
        {finish.reshoot.length > 0 && (
          <Part title="To be shot again">
            {finish.reshoot.map((line) => (
              <Typography key={line} variant="body2">
                {line}
              </Typography>
            ))}
          </Part>
        )}
        <Part title="Signature">
          <SignForm
            {...{ finish, by }}
            isUnkept={isChanged}
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

/** The cost as it is known on the page: of the picture while the crop is dragged, of the subject once it is kept. */
function costOfDraft({ width, height }: Merge, { crop }: Cut, finish: Finish): Finish['cost'] {
  if (JSON.stringify(crop) === JSON.stringify(finish.cut.crop)) return finish.cost;
  return { ofPicture: crop ? 1 - (crop.width * crop.height) / (width * height) : 0, ofSubject: null };
}

function Part({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <Box component="section" sx={{ display: 'grid', gap: 1, borderTop: `1px solid ${GREY.rule}`, pt: 1 }}>
      <Typography variant="h2">{title}</Typography>
      {children}
    </Box>
  );
}
