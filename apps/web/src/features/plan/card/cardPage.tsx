// The capture card as one file: no scripts, nothing to load.
import { renderToStaticMarkup } from 'react-dom/server';
import type { CaptureCard } from '@blendrak/core/plan';
import { CARD_CSS, CardView } from './CardView';

/** HTML of the page. */
export function cardPage(card: CaptureCard): string {
  const title = renderToStaticMarkup(<title>{card.title}</title>);
  const body = renderToStaticMarkup(<CardView card={card} />);
  return (
    '<!doctype html><html lang="en"><head><meta charset="utf-8">' +
    '<meta name="viewport" content="width=device-width, initial-scale=1">' +
    `${title}<style>body{margin:0}${CARD_CSS}</style></head><body>${body}</body></html>`
  );
}
