// The signature: who, what verdict, what is to be known; and opening again.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type FormEvent } from 'react';
import type { Finish, SignOrder, Verdict } from '@blendrak/contract';
import { Choice } from '../../shared/Choice';

const VERDICTS: readonly (readonly [Verdict, string])[] = [
  ['deliver', 'Deliver'],
  ['deliver-with-remarks', 'Deliver, with remarks'],
  ['reshoot', 'Reshoot'],
];

interface SignFormProps {
  readonly finish: Finish;
  readonly by: string;
  /** Whether the cut that is shown has not been kept: what is signed would be another one. */
  readonly isUnkept: boolean;
  readonly problem: string | null;
  onName(by: string): void;
  onSign(order: SignOrder): void;
  onOpenAgain(): void;
}

export function SignForm({ finish, by, isUnkept, problem, onName, onSign, onOpenAgain }: SignFormProps) {
  const { signature, obstacles, state, reshoot } = finish;
  const [verdict, setVerdict] = useState<Verdict>('deliver');
  const [remarks, setRemarks] = useState('');
  if (signature) {
    return (
      <Box sx={{ display: 'grid', gap: 0.75, justifyItems: 'start' }}>
        <Typography>
          <b>{VERDICTS.find(([v]) => v === signature.verdict)![1]}</b>, signed by {signature.by} on{' '}
          {signature.at.slice(0, 10)}
        </Typography>
        {signature.remarks && <Typography variant="body2">{signature.remarks}</Typography>}
        <Typography variant="body2" color="text.secondary">
          The merge, its findings and repairs are locked.
        </Typography>
        <Button variant="outlined" onClick={onOpenAgain}>
          Open again
        </Button>
      </Box>
    );
  }
  const standing = obstacles.filter((o) => o.waiver === null).length;
  const needsWords = verdict !== 'deliver';
  const why =
    by.trim() === ''
      ? 'Your name is missing.'
      : isUnkept
        ? 'Keep the cut first, or take the whole picture.'
        : verdict !== 'reshoot' && standing > 0
          ? 'Something stands against it: settle or waive it first.'
          : needsWords && remarks.trim() === ''
            ? `Say what is to be ${verdict === 'reshoot' ? 'shot again' : 'known'}.`
            : null;
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (why === null) onSign({ by: by.trim(), verdict, remarks: remarks.trim(), state });
  };
  const choose = (next: Verdict): void => {
    setVerdict(next);
    // The list of what to shoot is there already.
    if (next === 'reshoot' && remarks.trim() === '') setRemarks(reshoot.join('\n'));
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <TextField
          size="small"
          label="Your name"
          value={by}
          onChange={(e) => onName(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          sx={{ flex: 1 }}
        />
        <Choice label="Verdict" value={verdict} choices={VERDICTS} onChange={choose} />
      </Box>
      {needsWords && (
        <TextField
          size="small"
          label={verdict === 'reshoot' ? 'To be shot again' : 'Remarks'}
          value={remarks}
          multiline
          maxRows={5}
          onChange={(e) => setRemarks(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
      )}
      {problem && (
        <Typography role="alert" variant="body2" color="error">
          {problem}
        </Typography>
      )}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Button variant="contained" type="submit" disabled={why !== null}>
          Sign
        </Button>
        {why && (
          <Typography variant="body2" color="text.secondary">
            {why}
          </Typography>
        )}
      </Box>
    </Box>
  );
}
