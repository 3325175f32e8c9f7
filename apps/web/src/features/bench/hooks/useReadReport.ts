// A report file is read and handed to the server: what it found and nobody here has joins the queue.
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { api, wordsOf } from '../../../shared/api';
import { KEYS } from '../../../shared/queries';

export function useReadReport(mergeId: string): (file: File) => void {
  const client = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const read = async (file: File): Promise<string> => {
    const report: unknown = await file
      .text()
      .then((text) => JSON.parse(text) as unknown)
      .catch(() => {
        throw new Error(`${file.name}: this is no JSON. Accepted: a report that inspect, tree or the bench wrote.`);
      });
    const { taken, known } = await api.readReport(mergeId, report);
    await client.invalidateQueries({ queryKey: KEYS.findings(mergeId) });
    return `${file.name}: ${taken} taken over, ${known} known already.`;
  };
  return (file) =>
    void read(file)
      .then((words) => enqueueSnackbar(words, { variant: 'info' }))
      .catch((error: unknown) => enqueueSnackbar(wordsOf(error), { variant: 'error' }));
}
