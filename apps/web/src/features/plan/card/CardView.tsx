// The capture card as a page: plain HTML and its own style, so that it can be taken along as one file.
import type { CaptureCard } from '@blendrak/core/plan';

/** Style of the card: black on white in the sun, pale red on black at night, when eyes must stay used to the dark. */
export const CARD_CSS = `
.card { --ink: #000; --paper: #fff; --quiet: #444; background: var(--paper); color: var(--ink); padding: 20px 24px;
  font: 17px/1.35 'Atkinson Hyperlegible Next Variable', system-ui, sans-serif; font-variant-numeric: tabular-nums; }
.card:has(#night:checked) { --ink: #ff9d8f; --paper: #000; --quiet: #c9766b; }
.card h1 { font-size: 28px; margin: 0; }
.card header { display: flex; align-items: baseline; gap: 16px; border-bottom: 3px solid var(--ink); padding-bottom: 6px; }
.card header p { margin: 0; color: var(--quiet); flex: 1; }
.card dl { display: grid; grid-template-columns: repeat(auto-fill, minmax(150px, 1fr)); gap: 10px 18px; margin: 14px 0; }
.card dt { color: var(--quiet); font-size: 14px; }
.card dd { margin: 0; font-size: 22px; font-weight: 700; }
.card ol { list-style: none; margin: 0; padding: 10px 0; border-block: 1px solid var(--quiet); columns: 300px; }
.card ol label { display: flex; gap: 10px; align-items: center; padding: 3px 0; break-inside: avoid; min-height: 28px; }
.card ol input { width: 22px; height: 22px; accent-color: var(--ink); flex: none; }
.card ol b { min-width: 28px; }
.card input:checked + span { text-decoration: line-through; color: var(--quiet); }
.card h2 { font-size: 18px; margin: 14px 0 4px; }
.card ul { margin: 0; padding-left: 20px; }
.card .rules { margin: 12px 0 0; font-weight: 700; }
.card .notes { white-space: pre-wrap; }
`;

export function CardView({ card }: { readonly card: CaptureCard }) {
  return (
    <article className="card">
      <header>
        <h1>{card.title}</h1>
        <p>{card.kind}</p>
        <label>
          <input type="checkbox" id="night" /> Night
        </label>
      </header>
      <dl>
        {card.settings.map(({ label, value }) => (
          <div key={label}>
            <dt>{label}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <ol aria-label="Frames">
        {card.frames.map(({ name, detail }, k) => (
          <li key={k}>
            <label>
              <input type="checkbox" />
              <span>
                <b>{name}</b> {detail}
              </span>
            </label>
          </li>
        ))}
      </ol>
      <h2>Watch</h2>
      <ul>
        {card.watch.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      {card.notes && (
        <>
          <h2>Notes</h2>
          <p className="notes">{card.notes}</p>
        </>
      )}
      <h2>Caution</h2>
      {card.cautions.length > 0 && (
        <ul>
          {card.cautions.map(({ title, words }) => (
            <li key={title}>
              <b>{title}.</b> {words}
            </li>
          ))}
        </ul>
      )}
      <p className="rules">{card.rules}</p>
    </article>
  );
}
