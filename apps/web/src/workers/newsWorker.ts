// One stream of news for all open pages: browsers allow few connections to a server, and each stream keeps one.
import type { FromNewsWorker } from '../shared/newsStream';

interface SharedScope {
  onconnect: ((event: MessageEvent) => void) | null;
}

const pages = new Set<MessagePort>();
let isOpen = false;

function tell(message: FromNewsWorker): void {
  for (const page of pages) page.postMessage(message);
}

const stream = new EventSource('/api/events');
stream.onopen = () => {
  isOpen = true;
  tell({ kind: 'open' });
};
stream.onerror = () => {
  isOpen = false;
};
stream.onmessage = (event: MessageEvent<string>) => tell({ kind: 'news', text: event.data });

(self as unknown as SharedScope).onconnect = (event) => {
  const page = event.ports[0]!;
  pages.add(page);
  // A page that is left says so; one that was killed is posted to in vain.
  page.onmessage = () => pages.delete(page);
  if (isOpen) page.postMessage({ kind: 'open' } satisfies FromNewsWorker);
};
