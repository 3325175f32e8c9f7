// Files of a job with what is known of them.
import Close from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useSnackbar } from 'notistack';
import { Link } from 'react-router';
import type { LinkedFrame, Picture } from '@blendrak/contract';
import { MONO } from '../../app/theme';
import { api, tileUrl, wordsOf } from '../../shared/api';
import type { Uploads } from './useUploads';

interface PictureTableProps {
  readonly jobId: string;
  readonly pictures: readonly Picture[];
  readonly uploads: Uploads | null;
  readonly empty: string;
}

const HEADS = ['', 'File', 'Size', 'Depth, profile', 'Exposure', 'Focal length', 'Focus', ''];

export function PictureTable({ jobId, pictures, uploads, empty }: PictureTableProps) {
  const waiting = uploads?.list ?? [];
  if (pictures.length === 0 && waiting.length === 0) return <Typography color="text.secondary">{empty}</Typography>;
  return (
    <Table size="small" sx={{ '& td': { fontSize: 12.5, py: 0.5 }, '& th': { py: 0.5 } }}>
      <TableHead>
        <TableRow>
          {HEADS.map((head, i) => (
            <TableCell key={i}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {pictures.map((picture) => (
          <PictureRow key={picture.id} jobId={jobId} picture={picture} />
        ))}
        {waiting.map((upload) => (
          <TableRow key={upload.key}>
            <TableCell />
            <TableCell>{upload.name}</TableCell>
            <TableCell colSpan={5} sx={{ color: upload.state === 'failed' ? 'error.main' : 'text.secondary' }}>
              {upload.state === 'failed' ? upload.error : upload.state === 'sending' ? 'sending …' : 'waiting'}
            </TableCell>
            <TableCell align="right">
              {upload.state === 'failed' && (
                <IconButton
                  size="small"
                  aria-label={`Dismiss ${upload.name}`}
                  onClick={() => uploads?.dismiss(upload.key)}
                >
                  <Close fontSize="inherit" />
                </IconButton>
              )}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function PictureRow({ jobId, picture }: { jobId: string; picture: Picture }) {
  const { exif } = picture;
  const { enqueueSnackbar } = useSnackbar();
  const takeOut = (): void => {
    api.dropPicture(jobId, picture.id).catch((error: unknown) => enqueueSnackbar(wordsOf(error), { variant: 'error' }));
  };
  return (
    <TableRow hover>
      <TableCell sx={{ width: 64 }}>
        {picture.status === 'ready' && (
          <a href={tileUrl(`p-${picture.id}`, 'full', '!2400,2400', 1)} target="_blank" rel="noreferrer">
            <img
              src={tileUrl(`p-${picture.id}`, 'full', '!144,96', 1)}
              alt={`Show ${picture.fileName} large`}
              height={48}
              style={{ display: 'block' }}
            />
          </a>
        )}
      </TableCell>
      <TableCell>
        {picture.fileName}
        {picture.linked && <LinkWords jobId={jobId} picture={picture} linked={picture.linked} />}
      </TableCell>
      {picture.status === 'failed' ? (
        <TableCell colSpan={5} sx={{ color: 'error.main' }} role="alert">
          {picture.error}
        </TableCell>
      ) : picture.status === 'waiting' ? (
        <TableCell colSpan={5} sx={{ color: 'text.secondary' }}>
          waiting to be read …
        </TableCell>
      ) : (
        <>
          <TableCell sx={{ fontFamily: MONO }}>
            {picture.width} × {picture.height}
          </TableCell>
          <TableCell>
            {picture.bits} bit, {picture.profile ?? 'no profile'}
          </TableCell>
          <TableCell sx={{ fontFamily: MONO }}>{exposureWords(picture)}</TableCell>
          <TableCell sx={{ fontFamily: MONO }}>{exif?.focalLengthMm ? `${exif.focalLengthMm} mm` : '–'}</TableCell>
          <TableCell sx={{ fontFamily: MONO }}>{focusWords(picture)}</TableCell>
        </>
      )}
      <TableCell align="right">
        <IconButton size="small" aria-label={`Take out ${picture.fileName}`} onClick={takeOut}>
          <Close fontSize="inherit" />
        </IconButton>
      </TableCell>
    </TableRow>
  );
}

/** A frame that is another job's merge: where it comes from, and whether that has changed since. */
function LinkWords({ jobId, picture, linked }: { jobId: string; picture: Picture; linked: LinkedFrame }) {
  const { enqueueSnackbar } = useSnackbar();
  const renew = (): void => {
    api
      .renewLinkedFrame(jobId, picture.id)
      .catch((error: unknown) => enqueueSnackbar(wordsOf(error), { variant: 'error' }));
  };
  if (linked.state === 'gone')
    return (
      <Typography variant="body2" color="warning.main">
        its job has no merge any more
      </Typography>
    );
  return (
    <Typography variant="body2" component="div">
      from{' '}
      <Link to={`/jobs/${linked.jobId}/bench`} style={{ color: 'inherit' }}>
        {linked.jobName}
      </Link>
      {linked.state === 'stale' && (
        <>
          <Typography variant="body2" component="span" color="warning.main">
            , stale: it has changed since
          </Typography>{' '}
          <Button onClick={renew}>Take it anew</Button>
        </>
      )}
    </Typography>
  );
}

function focusWords({ exif }: Picture): string {
  if (!exif?.focusDistanceM) return '–';
  return exif.focusDistanceM < 1
    ? `${(exif.focusDistanceM * 1000).toFixed(0)} mm`
    : `${exif.focusDistanceM.toFixed(1)} m`;
}

function exposureWords({ exif }: Picture): string {
  if (!exif) return 'no Exif';
  const time = exif.exposureS
    ? exif.exposureS < 0.4
      ? `1/${Math.round(1 / exif.exposureS)} s`
      : `${exif.exposureS} s`
    : '–';
  return `${time} f/${exif.fNumber ?? '–'} ISO ${exif.iso ?? '–'}`;
}
