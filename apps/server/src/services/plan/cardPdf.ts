// The capture card on paper: one page of A4, black on white.
import type { CaptureCard } from '@blendrak/core/plan';
import { pdfBytes, type Pdf } from '../../shared/pdfBytes';

const MM = 72 / 25.4;
const PAGE = { width: 210 * MM, height: 297 * MM, margin: 13 * MM } as const;
const INNER = PAGE.width - 2 * PAGE.margin;
const GREY = '#555555';

/**
 * Draws a card.
 * @returns the PDF's bytes; always one page: long lists of frames are set smaller and in more columns
 */
export function cardPdf(card: CaptureCard): Promise<Buffer> {
  return pdfBytes(card.title, [PAGE.width, PAGE.height], (doc) => {
    let y = drawHead(doc, card);
    y = drawSettings(doc, card, y);
    const foot = measureFoot(doc, card);
    drawFrames(doc, card, y, PAGE.height - PAGE.margin - foot - y);
    drawFoot(doc, card, PAGE.height - PAGE.margin - foot);
  });
}

function drawHead(doc: Pdf, card: CaptureCard): number {
  doc.font('strong').fontSize(20).fillColor('black');
  doc.text(card.title, PAGE.margin, PAGE.margin, { width: INNER * 0.7, height: 26, ellipsis: true });
  doc.font('text').fontSize(11).fillColor(GREY);
  doc.text(card.kind, PAGE.margin, PAGE.margin + 6, { width: INNER, align: 'right' });
  const y = PAGE.margin + 32;
  doc
    .moveTo(PAGE.margin, y)
    .lineTo(PAGE.width - PAGE.margin, y)
    .lineWidth(1.5)
    .stroke('black');
  return y + 8;
}

/** Large figures, four to a row, to be read at arm's length. */
function drawSettings(doc: Pdf, card: CaptureCard, top: number): number {
  const columns = 4;
  const width = INNER / columns;
  const rowHeight = 40;
  card.settings.forEach(({ label, value }, k) => {
    const x = PAGE.margin + (k % columns) * width;
    const y = top + Math.floor(k / columns) * rowHeight;
    doc
      .font('text')
      .fontSize(9)
      .fillColor(GREY)
      .text(label, x, y, { width: width - 6, lineBreak: false });
    fit(doc, value, x, y + 11, width - 6, 16);
  });
  return top + Math.ceil(card.settings.length / columns) * rowHeight + 6;
}

/** Text on one line, set smaller until it fits. */
function fit(doc: Pdf, text: string, x: number, y: number, width: number, size: number): void {
  doc.font('strong').fillColor('black');
  for (let points = size; points > 7; points--) {
    doc.fontSize(points);
    if (doc.widthOfString(text) <= width) break;
  }
  doc.text(text, x, y, { lineBreak: false });
}

function drawFrames(doc: Pdf, card: CaptureCard, top: number, room: number): void {
  doc
    .moveTo(PAGE.margin, top - 4)
    .lineTo(PAGE.width - PAGE.margin, top - 4)
    .lineWidth(0.5)
    .stroke(GREY);
  const n = card.frames.length;
  // Widest columns that still hold all frames at a legible size.
  const layouts = [1, 2, 3, 4, 6, 8, 12].map((columns) => ({ columns, height: room / Math.ceil(n / columns) }));
  const { columns, height } = layouts.find((l) => l.height >= 15) ?? layouts.at(-1)!;
  const line = Math.min(30, height);
  const perColumn = Math.ceil(n / columns);
  const width = INNER / columns;
  const size = Math.max(4, Math.min(15, line * 0.55));
  card.frames.forEach(({ name, detail }, k) => {
    const x = PAGE.margin + Math.floor(k / perColumn) * width;
    const y = top + (k % perColumn) * line;
    const box = Math.min(16, line * 0.62);
    doc
      .rect(x, y + 1, box, box)
      .lineWidth(0.7)
      .stroke('black');
    doc
      .font('strong')
      .fontSize(size)
      .fillColor('black')
      .text(name, x + box + 4, y, { lineBreak: false });
    if (columns > 4) return;
    const indent = Math.max(26, doc.widthOfString(name) + 6);
    doc.font('text').fontSize(size);
    doc.text(detail, x + box + 4 + indent, y, {
      width: width - box - indent - 8,
      height: line,
      ellipsis: true,
      lineBreak: false,
    });
  });
}

function footLines(card: CaptureCard): readonly (readonly [strong: string, text: string])[] {
  return [
    ...card.watch.map((words) => ['', words] as const),
    ...(card.notes ? [['Notes: ', card.notes] as const] : []),
    ...card.cautions.map(({ title, words }) => [`${title}: `, words] as const),
    ['', card.rules],
  ];
}

function measureFoot(doc: Pdf, card: CaptureCard): number {
  doc.font('text').fontSize(9);
  return footLines(card).reduce(
    (sum, [strong, text]) => sum + doc.heightOfString(strong + text, { width: INNER - 10 }) + 3,
    14,
  );
}

function drawFoot(doc: Pdf, card: CaptureCard, top: number): void {
  doc
    .moveTo(PAGE.margin, top)
    .lineTo(PAGE.width - PAGE.margin, top)
    .lineWidth(0.5)
    .stroke(GREY);
  let y = top + 6;
  for (const [strong, text] of footLines(card)) {
    doc.font('text').fontSize(9).fillColor('black');
    const height = doc.heightOfString(strong + text, { width: INNER - 10 });
    doc.circle(PAGE.margin + 2, y + 5, 1.2).fill('black');
    doc.fillColor('black');
    if (strong)
      doc
        .font('strong')
        .text(strong, PAGE.margin + 8, y, { continued: true, width: INNER - 10 })
        .font('text')
        .text(text);
    else doc.text(text, PAGE.margin + 8, y, { width: INNER - 10 });
    y += height + 3;
  }
}
