// The chosen frame: its picture, its settings, what the checks say, and charts over its set.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { CartesianGrid, Line, LineChart, ReferenceLine, Tooltip, XAxis, YAxis } from 'recharts';
import type { CardFile, CardSet, CardSorting } from '@blendrak/contract';
import { formatFNumber, formatShutter, readableLength } from '@blendrak/core/plan';
import { GREY } from '../../app/theme';
import { toggleLeftOut } from './editSorting';
import { thumbUrl, type SortingEditor } from './useCard';

interface FilePanelProps {
  readonly file: CardFile | null;
  readonly sorting: CardSorting | null;
  readonly files: ReadonlyMap<string, CardFile>;
  readonly editor: SortingEditor;
}

export function FilePanel({ file, sorting, files, editor }: FilePanelProps) {
  const set = file ? (sorting?.sets.find((s) => s.nested.length === 0 && s.files.includes(file.id)) ?? null) : null;
  const checks = set?.checks.filter((c) => c.file === file?.id) ?? [];
  return (
    <Box
      component="aside"
      aria-label="Frame"
      sx={{
        borderLeft: `1px solid ${GREY.rule}`,
        p: 2,
        overflow: 'auto',
        display: 'grid',
        gap: 1.5,
        alignContent: 'start',
      }}
    >
      {!file && (
        <Typography color="text.secondary">
          Choose a frame. Arrows walk; with Shift they move it. O leaves out, S splits the set before it, N makes a new
          set of it, Z takes the last change back.
        </Typography>
      )}
      {file && (
        <>
          {file.looked && <Box component="img" src={thumbUrl(file.id)} alt={file.fileName} sx={{ width: '100%' }} />}
          <Typography variant="h2">{file.fileName}</Typography>
          {file.error && (
            <Typography role="alert" color="error">
              {file.error}
            </Typography>
          )}
          <Typography variant="body2">{settingsOf(file)}</Typography>
          {set && (
            <Button variant="outlined" onClick={() => editor.edit((s) => toggleLeftOut(s, set.id, file.id))}>
              {set.leftOut.includes(file.id) ? 'Keep in the set' : 'Leave out of the set'}
            </Button>
          )}
          {checks.map((c) => (
            <Box key={c.check} sx={{ borderLeft: `3px solid ${c.spoils ? '#f0c060' : GREY.quiet}`, pl: 1 }}>
              <Typography sx={{ fontWeight: 650 }}>
                {c.check.replace('-', ' ')}: {c.value} {c.unit}
              </Typography>
              <Typography variant="body2" color="text.secondary">
                usual or allowed: {c.limit} {c.unit}. {c.meaning}
              </Typography>
            </Box>
          ))}
          {set && <SetCharts set={set} files={files} chosen={file.id} />}
        </>
      )}
    </Box>
  );
}

function settingsOf({ exif }: CardFile): string {
  if (!exif) return 'The file names no settings.';
  return [
    exif.exposureS !== null ? formatShutter(exif.exposureS) : null,
    exif.fNumber !== null ? formatFNumber(exif.fNumber) : null,
    exif.iso !== null ? `ISO ${exif.iso}` : null,
    exif.focalLengthMm !== null ? `${exif.focalLengthMm} mm` : null,
    exif.focusDistanceM !== null ? `focus ${readableLength(exif.focusDistanceM * 1000)}` : null,
    exif.takenAt ? new Date(exif.takenAt).toISOString().slice(11, 19) : null,
  ]
    .filter((part) => part !== null)
    .join(' · ');
}

const OVERLAP_WORDS: Readonly<Record<CardSet['kind'], string>> = {
  'focus-stack': 'Sharp in the next frame, too, %',
  bracket: 'Tones the next frame holds, too, %',
  panorama: 'View shared with the next frame, %',
};

/** Exposure, focus and overlap over the frames of a set: a gap or a jump is seen at one glance. */
function SetCharts({
  set,
  files,
  chosen,
}: {
  readonly set: CardSet;
  readonly files: ReadonlyMap<string, CardFile>;
  readonly chosen: string;
}) {
  const ids = set.files;
  const exifs = ids.map((id) => files.get(id)?.exif ?? null);
  const curves = [
    [
      'Exposure, EV',
      exifs.map((e) =>
        e?.exposureS && e.fNumber ? Math.log2((e.exposureS * (e.iso ?? 100)) / 100 / e.fNumber ** 2) : null,
      ),
    ],
    ['Focus, dioptres', exifs.map((e) => (e?.focusDistanceM ? 1 / e.focusDistanceM : null))],
    [OVERLAP_WORDS[set.kind], set.overlaps.map((share) => 100 * share)],
  ] as const;
  const at = ids.indexOf(chosen) + 1;
  return (
    <>
      {curves
        .filter(([, values]) => values.filter((v) => v !== null).length > 1)
        .map(([name, values]) => (
          <Box key={name}>
            <Typography variant="body2" color="text.secondary">
              {name}, over the frames
            </Typography>
            <LineChart
              width={264}
              height={110}
              data={values.map((v, k) => ({ frame: k + 1, value: v }))}
              margin={{ top: 6, right: 6, bottom: 0, left: -14 }}
            >
              <CartesianGrid stroke={GREY.rule} strokeDasharray="2 4" />
              <XAxis dataKey="frame" tick={{ fill: GREY.quiet, fontSize: 11 }} stroke={GREY.rule} />
              <YAxis
                domain={['auto', 'auto']}
                tick={{ fill: GREY.quiet, fontSize: 11 }}
                stroke={GREY.rule}
                tickFormatter={(v: number) => String(Number(v.toPrecision(3)))}
              />
              <Tooltip
                contentStyle={{ background: GREY.panel, border: `1px solid ${GREY.rule}` }}
                formatter={(v) => Number(v).toPrecision(4)}
              />
              <ReferenceLine x={at} stroke={GREY.text} />
              <Line
                dataKey="value"
                stroke={GREY.text}
                dot={{ r: 2, fill: GREY.text }}
                isAnimationActive={false}
                connectNulls
              />
            </LineChart>
          </Box>
        ))}
    </>
  );
}
