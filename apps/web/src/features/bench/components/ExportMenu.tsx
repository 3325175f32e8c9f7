// What can be taken away: flat pictures (rendered first, with progress), the report and masks; and what is brought: reports,
// masks, repairs of another job.
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Snackbar from '@mui/material/Snackbar';
import { useState } from 'react';
import type { PictureFormat } from '@blendrak/contract';
import type { BenchMerge } from '../../../shared/queries';
import { WorkProgress } from '../../../shared/WorkProgress';
import { donorName } from '../donors';
import { CopyRepairs } from './CopyRepairs';
import { useExport } from '../hooks/useExport';
import { useReadReport } from '../hooks/useReadReport';
import { useBench } from '../store';

const PICTURES: readonly (readonly [format: PictureFormat, label: string])[] = [
  ['tiff', 'Flat TIFF, 16 bit'],
  ['png', 'Flat PNG, 16 bit'],
  ['jpeg', 'JPEG'],
];

interface ExportMenuProps {
  readonly merge: BenchMerge;
  onMask(donor: number, file: File): void;
}

export function ExportMenu({ merge, onMask }: ExportMenuProps) {
  const donor = useBench((s) => s.donor);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [isCopying, setCopying] = useState(false);
  const readReport = useReadReport(merge.id);
  const { work, refusal, ask, dismiss } = useExport(merge);
  const used = [
    ...new Set(merge.operations.flatMap(({ donor, enabled }) => (enabled && donor !== null ? [donor] : []))),
  ].sort((a, b) => a - b);
  const base = `/api/merges/${merge.id}`;
  const files: [string, string][] = [
    ['Report (JSON)', `${base}/report.json`],
    ['Web Annotations (JSON-LD)', `${base}/annotations.json`],
    ...used.map((k): [string, string] => [`Mask of ${donorName(merge, k)} (PNG)`, `${base}/masks/${k}.png`]),
  ];
  const close = (): void => setAnchor(null);
  return (
    <>
      <Button variant="outlined" onClick={(event) => setAnchor(event.currentTarget)} aria-haspopup="menu">
        Export
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {PICTURES.map(([format, label]) => (
          <MenuItem
            key={format}
            disabled={work !== null}
            onClick={() => {
              close();
              ask(format);
            }}
          >
            {label}
          </MenuItem>
        ))}
        {files.map(([label, url]) => (
          <MenuItem key={url} component="a" href={url} download onClick={close}>
            {label}
          </MenuItem>
        ))}
        <FileItem
          words="Read a report …"
          label="Report file"
          accept="application/json,.json"
          isFirst
          {...{ close }}
          onFile={readReport}
        />
        <FileItem
          words={donor === null ? 'Read a mask: pick a frame first' : `Read a mask for ${donorName(merge, donor)} …`}
          label="Mask file"
          accept="image/png,image/tiff,image/jpeg"
          isOff={donor === null}
          {...{ close }}
          onFile={(file) => donor !== null && onMask(donor, file)}
        />
        <MenuItem
          onClick={() => {
            close();
            setCopying(true);
          }}
        >
          Repairs of another job …
        </MenuItem>
      </Menu>
      {isCopying && <CopyRepairs merge={merge} onClose={() => setCopying(false)} />}
      <Snackbar open={work !== null || refusal !== null} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
        {refusal !== null ? (
          <Alert severity="error" onClose={dismiss}>
            {refusal}
          </Alert>
        ) : (
          <Box sx={{ bgcolor: 'background.paper', border: 1, borderColor: 'divider', px: 2, py: 1, width: 420 }}>
            {work && <WorkProgress work={work} />}
          </Box>
        )}
      </Snackbar>
    </>
  );
}

interface FileItemProps {
  readonly words: string;
  readonly label: string;
  readonly accept: string;
  /** The first of those that are read stands apart from what is taken away. */
  readonly isFirst?: boolean;
  readonly isOff?: boolean;
  close(): void;
  onFile(file: File): void;
}

function FileItem({ words, label, accept, isFirst = false, isOff = false, close, onFile }: FileItemProps) {
  return (
    <MenuItem component="label" disabled={isOff} sx={isFirst ? { borderTop: 1, borderColor: 'divider' } : {}}>
      {words}
      <input
        hidden
        type="file"
        aria-label={label}
        {...{ accept }}
        disabled={isOff}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          close();
        }}
      />
    </MenuItem>
  );
}
