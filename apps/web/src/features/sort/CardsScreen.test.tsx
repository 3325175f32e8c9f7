/**
 * @jest-environment jsdom
 */
// Cards: a folder or dropped files become one, and each can be taken off the list.
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { cardSchema } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { showPage } from '../../testing/page';
import { CardsScreen } from './CardsScreen';

const summary = { id: 'k1', name: 'Morning', createdAt: '2026-11-02', files: 20, sets: 4, work: null };
const card = cardSchema.parse({ summary, files: [], sorting: null });
let server: FakeServer;
beforeEach(async () => {
  server = fakeServer({ 'GET /api/cards': [summary, { ...summary, id: 'k2', name: 'New', files: 3, sets: 0 }] });
  showPage(<CardsScreen />, '/sort');
  await screen.findByLabelText('Cards');
});
afterEach(() => {
  cleanup();
  server.restore();
});

it('are listed with what is on them', () => {
  expect(screen.getByText('20 files, 4 sets')).toBeTruthy();
  expect(screen.getByText('3 files')).toBeTruthy();
  expect(screen.getByText('Morning').getAttribute('href')).toBe('/sort/k1');
});

it('a folder becomes one, named as the folder is, and is opened', async () => {
  server.answer('POST /api/cards', card);
  fireEvent.change(screen.getByLabelText('Or a folder on this machine'), { target: { value: ' /cards/Cove 12/ ' } });
  fireEvent.click(screen.getByText('Read the folder'));
  expect(await screen.findByText('/sort/k1')).toBeTruthy();
  expect(server.sent('POST')[0]!.body).toMatchObject({ folder: '/cards/Cove 12/' });
});

it('a folder that cannot be read is said, and the path stays', async () => {
  server.answer('POST /api/cards', new Refusal(400, '/nowhere: the folder cannot be read.'));
  fireEvent.change(screen.getByLabelText('Or a folder on this machine'), { target: { value: '/nowhere' } });
  fireEvent.click(screen.getByText('Read the folder'));
  expect(await screen.findByText('/nowhere: the folder cannot be read.')).toBeTruthy();
  expect((screen.getByLabelText('Or a folder on this machine') as HTMLInputElement).value).toBe('/nowhere');
});

it('dropped files go one by one; a bad one is named and the others are sorted', async () => {
  server.answer('POST /api/cards', card);
  const answers: unknown[] = [{}, new Refusal(400, 'this is no picture')];
  server.answer('POST /api/cards/k1/files', () => answers.shift());
  server.answer('POST /api/cards/k1/sort', card);
  fireEvent.change(screen.getByLabelText('Files of a card'), {
    target: { files: ['a.jpg', 'b.txt'].map((name) => new File(['x'], name, { type: 'image/jpeg' })) },
  });
  expect(await screen.findByText('b.txt: this is no picture')).toBeTruthy();
  expect(await screen.findByText('/sort/k1')).toBeTruthy();
  expect(server.sent('POST').map((p) => p.path)).toEqual([
    '/api/cards',
    '/api/cards/k1/files',
    '/api/cards/k1/files',
    '/api/cards/k1/sort',
  ]);
});

it('one is taken off the list only when that is confirmed; a refusal is said', async () => {
  const confirm = jest.spyOn(window, 'confirm').mockReturnValueOnce(false).mockReturnValue(true);
  server.answer('DELETE /api/cards/k1', new Refusal(409, 'This card is being read: cancel that first.'));
  fireEvent.click(screen.getByLabelText('Remove Morning'));
  expect(server.sent('DELETE')).toHaveLength(0);
  fireEvent.click(screen.getByLabelText('Remove Morning'));
  expect(await screen.findByText('This card is being read: cancel that first.')).toBeTruthy();
  await waitFor(() => expect(server.sent('DELETE')).toHaveLength(1));
  confirm.mockRestore();
});
