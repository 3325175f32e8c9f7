// What the report on paper says of a merge: gathered from what is known of it.
import { judgeFindings } from '@blendrak/core/inspect';
import { farthestSeen, viewingOf } from '@blendrak/core/print';
import type { Finding, ViewingSettings } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import type { Services } from '../context';
import { finishOf, viewingOfJob } from '../finish/finishMerge';
import { openTilePicture } from '../look/tilePictures';
import { operationWords } from '../mend/operationWords';
import { exportReport, inventedOf } from './exportService';
import type { PrintedFinding, ReportPages } from './reportPdf';

const PICTURE_PX = 1600;
const CROP_PX = 240;
/** More places than this nobody looks at on paper. */
const MOST_FINDINGS = 40;

const KINDS = { 'focus-stack': 'Focus stack', panorama: 'Panorama', bracket: 'Bracket' } as const;

const FATES: Record<Finding['decision'], string> = {
  open: 'open',
  repaired: 'repaired',
  accepted: 'accepted',
  reshoot: 'to be shot again',
  'not-a-defect': 'no defect',
};

/** Gathers a report's pages. */
export async function reportPages(services: Services, mergeId: string): Promise<ReportPages> {
  const { storage, merges } = services;
  const { row, body, scene, donorNames } = merges.painted(mergeId);
  const job = storage.jobs.find(row.job_id)!;
  const finish = await finishOf(services, mergeId);
  const viewing = viewingOfJob(storage, row.job_id);
  const report = exportReport(services, mergeId);
  const names = body.frames.map((f) => f.fileName);
  const findings = judged(storage.findings.listByMerge(mergeId), viewing, body);
  const picture = (id: string, region: Region, longSide: number): Promise<Buffer> =>
    drawPart(services, id, region, longSide);
  const whole = { x: 0, y: 0, width: body.width, height: body.height };
  const { cut, signature, cost } = finish;
  const invented = inventedOf(scene.operations);
  const invention = invented.length === 0 ? 'Nothing was invented.' : `Invented: ${invented.join('; ')}.`;
  const printed: PrintedFinding[] = [];
  for (const { finding, visibility, far } of findings.slice(0, MOST_FINDINGS)) {
    const part = around(finding.bbox, body);
    printed.push({
      title: `${finding.defect.replaceAll('-', ' ')}, visibility ${visibility}${far}`,
      fate: FATES[finding.decision] + (finding.reason ? `: ${finding.reason}` : ''),
      words: [finding.cause, finding.recheck].filter((text) => text !== '').join(' '),
      before: await picture(`m-${mergeId}`, part, CROP_PX),
      after: await picture(`r-${mergeId}`, part, CROP_PX),
      polygon: finding.polygon,
    });
  }
  return {
    title: job.name,
    lines: [
      signature
        ? `${signature.verdict.replaceAll('-', ' ')}, signed by ${signature.by} on ${signature.at.slice(0, 10)}`
        : 'Not signed',
      ...(signature?.remarks ? [signature.remarks] : []),
      `${KINDS[job.kind]} of ${names.length} frames, ${body.width} × ${body.height} px; judged ${wayWords(viewing)}.`,
      ...(cut.crop
        ? [
            `Cut to ${cut.crop.width} × ${cut.crop.height} px${cut.turnDeg === 0 ? '' : `, turned by ${cut.turnDeg.toFixed(2)}°`}: ${(100 * cost.ofPicture).toFixed(1)} % of the picture is cut off. ${invention}`,
          ]
        : [`Not cut. ${invention}`]),
    ],
    picture: await picture(`r-${mergeId}`, whole, PICTURE_PX),
    size: body,
    findings: printed,
    unlisted: Math.max(0, findings.length - MOST_FINDINGS),
    repairs: scene.operations.map((operation) => {
      const known = storage.operations.find(operation.id)!.operation;
      const { x, y, width, height } = operation.region;
      return `${operationWords(known, donorNames)} over ${Math.round(width)} × ${Math.round(height)} px at (${Math.round(x)}, ${Math.round(y)}).`;
    }),
    waivers: finish.obstacles.flatMap(({ words, waiver }) =>
      waiver ? [`${words} Waived by ${waiver.by}: ${waiver.reason}`] : [],
    ),
    reshoot: finish.reshoot,
    frames: report.frames,
    settings: settingsOf(body),
  };
}

interface JudgedFinding {
  readonly finding: Finding;
  readonly visibility: number;
  readonly far: string;
}

/** Most visible first; what was decided stays, what is open and not seen or too unsure is left out. */
function judged(
  findings: readonly Finding[],
  viewing: ViewingSettings,
  size: { readonly width: number; readonly height: number },
): JudgedFinding[] {
  const way = viewingOf(viewing, size);
  const { visibility: seen, unseen, unsure } = judgeFindings(findings, way, viewing.falseAlarms);
  return findings
    .filter((f) => !unseen.has(f) && !unsure.has(f))
    .map((finding) => {
      const { sight } = finding;
      const visibility = Math.round(seen.get(finding)!);
      const far = sight && viewing.kind === 'print' ? farthestSeen(sight, way.pitchMm) : 0;
      return { finding, visibility, far: far > 0 ? `, seen up to ${(far / 1000).toFixed(1)} m` : '' };
    })
    .sort((a, b) => b.visibility - a.visibility);
}

function wayWords(viewing: ViewingSettings): string {
  if (viewing.kind === 'screen') return 'on a screen at full size';
  const from = viewing.distanceMm === null ? 'its diagonal' : `${(viewing.distanceMm / 1000).toFixed(2)} m`;
  return `as a print of ${Math.round(viewing.longSideMm / 10)} cm on the long side from ${from}`;
}

function settingsOf(body: ReturnType<Services['merges']['body']>): [string, string][] {
  const { options, alignment, facts } = body;
  const shown: [string, unknown][] = [
    ...Object.entries(options).filter(([, value]) => typeof value !== 'object'),
    ...Object.entries(alignment).filter(([, value]) => typeof value !== 'object'),
    ...(facts.kind === 'panorama' ? [] : [['model', facts.model] as [string, unknown]]),
  ];
  return shown.map(([name, value]) => [name.replace(/([A-Z])/g, ' $1').toLowerCase(), String(value)]);
}

/** A square around a place, on the picture. */
function around({ x, y, width, height }: Region, size: { readonly width: number; readonly height: number }): Region {
  const side = Math.min(size.width, size.height, Math.max(120, Math.ceil(Math.max(width, height) * 1.15)));
  return {
    x: Math.round(Math.min(size.width - side, Math.max(0, x + width / 2 - side / 2))),
    y: Math.round(Math.min(size.height - side, Math.max(0, y + height / 2 - side / 2))),
    ...{ width: side, height: side },
  };
}

async function drawPart(services: Services, id: string, region: Region, longSide: number): Promise<Buffer> {
  const scale = Math.min(1, longSide / Math.max(region.width, region.height));
  const picture = openTilePicture(services, id);
  const tile = {
    region,
    width: Math.max(1, Math.round(region.width * scale)),
    height: Math.max(1, Math.round(region.height * scale)),
    format: 'jpg' as const,
  };
  const data = await services.quick.run('tile', { source: picture.source(tile), tile, icc: picture.icc });
  return Buffer.from(data.buffer, data.byteOffset, data.byteLength);
}
