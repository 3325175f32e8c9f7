// What can be taken away: flat pictures (rendered first, with progress), the report and masks; and a report that is read back.
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
import { useExport } from '../hooks/useExport';
import { useReadReport } from '../hooks/useReadReport';

const PICTURES: readonly (readonly [format: PictureFormat, label: string])[] = [
  ['tiff', 'Flat TIFF, 16 bit'],
  ['png', 'Flat PNG, 16 bit'],
  ['jpeg', 'JPEG'],
];

export function ExportMenu({ merge }: { merge: BenchMerge }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const readReport = useReadReport(merge.id);
  const { work, refusal, ask, dismiss } = useExport(merge);
  const used = [
    ...new Set(merge.operations.flatMap(({ donor, enabled }) => (enabled && donor !== null ? [donor] : []))),
  ].sort((a, b) => a - b);
  const base = `/api/merges/${merge.id}`;
  const files: [string, string][] = [
    ['Report (JSON)', `${base}/report.json`],
    ['Web Annotations (JSON-LD)', `${base}/annotations.json`],
    ...used.map((k): [string, string] => [`Mask of ${merge.frames[k]?.fileName} (PNG)`, `${base}/masks/${k}.png`]),
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
        <MenuItem component="label" divider sx={{ borderTop: 1, borderColor: 'divider' }}>
          Read a report …
          <input
            hidden
            type="file"
            accept="application/json,.json"
            aria-label="Report file"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              if (file) readReport(file);
              close();
            }}
          />
        </MenuItem>
      </Menu>
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
