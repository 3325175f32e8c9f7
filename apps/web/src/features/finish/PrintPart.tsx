// What the picture is as a print: the answer with its reasons, and the print that it is judged by.
import Typography from '@mui/material/Typography';
import type { ViewingSettings } from '@blendrak/contract';
import { PrintFields } from '../../shared/viewing/PrintFields';
import { Part } from './Part';
import type { printAnswer } from './printWords';

interface PrintPartProps {
  /** How the job's findings are judged now. */
  readonly viewing: ViewingSettings;
  /** The print that is thought of. */
  readonly print: ViewingSettings;
  readonly answer: ReturnType<typeof printAnswer> | null;
  onChange(viewing: ViewingSettings): void;
}

export function PrintPart({ viewing, print, answer, onChange }: PrintPartProps) {
  return (
    <Part title={answer ? answer.title : 'Print'}>
      {answer?.reasons.map((reason) => (
        <Typography key={reason} variant="body2">
          {reason}
        </Typography>
      ))}
      {print.kind === 'print' && <PrintFields key={JSON.stringify(print)} settings={print} onChange={onChange} />}
      {viewing.kind === 'screen' && (
        <Typography variant="body2" color="text.secondary">
          The findings are judged on a screen so far: with Judge they are judged by this print.
        </Typography>
      )}
    </Part>
  );
}
