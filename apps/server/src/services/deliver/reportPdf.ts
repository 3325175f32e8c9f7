// The report on paper: the picture with its marks, the findings before and after, what was repaired, frames and settings.
import type { Report } from '@blendrak/contract';
import { pdfBytes, type Pdf } from '../../shared/pdfBytes';

const MM = 72 / 25.4;
const PAGE = { width: 210 * MM, height: 297 * MM, margin: 15 * MM } as const;
const INNER = PAGE.width - 2 * PAGE.margin;
const BOTTOM = PAGE.height - PAGE.margin - 14;
const GREY = '#555555';
const INK = '#0a6f86';
const CROP_PT = 82;

/** A finding with its place as it came and as it is now, both JPEG. */
export interface PrintedFinding {
  readonly title: string;
  readonly fate: string;
  readonly words: string;
  readonly before: Buffer;
  readonly after: Buffer;
  readonly polygon: readonly (readonly [number, number])[];
}

export interface ReportPages {
  readonly title: string;
  /** Verdict, who signed and when, in a sentence each. */
  readonly lines: readonly string[];
  /** The whole picture as it is now, JPEG. */
  readonly picture: Buffer;
  readonly size: { readonly width: number; readonly height: number };
  /** Most visible first; those beyond the list are only counted. */
  readonly findings: readonly PrintedFinding[];
  readonly unlisted: number;
  readonly repairs: readonly string[];
  readonly waivers: readonly string[];
  readonly reshoot: readonly string[];
  readonly frames: Report['frames'];
  readonly settings: readonly (readonly [name: string, value: string])[];
}

/**
 * Draws a report.
 * @returns the PDF's bytes: a page with the picture, then as many as findings, repairs and frames take
 */
export function reportPdf(pages: ReportPages): Promise<Buffer> {
  return pdfBytes(pages.title, [PAGE.width, PAGE.height], (doc) => {
    const pen: Pen = { doc, y: PAGE.margin };
    drawFirst(pen, pages);
    if (pages.findings.length > 0) drawFindings(pen, pages);
    drawList(pen, 'What was repaired', pages.repairs, 'Nothing was painted in.');
    if (pages.waivers.length > 0) drawList(pen, 'What was waived', pages.waivers, '');
    if (pages.reshoot.length > 0) drawList(pen, 'To be shot again', pages.reshoot, '');
    drawFrames(pen, pages.frames);
    drawList(
      pen,
      'Settings',
      pages.settings.map(([name, value]) => `${name}: ${value}`),
      'As usual.',
    );
    numberPages(doc, pages.title);
  });
}

interface Pen {
  readonly doc: Pdf;
  y: number;
}

/** Begins a new page where so much does not fit any more. */
function makeRoom(pen: Pen, height: number): void {
  if (pen.y + height <= BOTTOM) return;
  pen.doc.addPage();
  pen.y = PAGE.margin;
}

function write(pen: Pen, text: string, size: number, font: 'text' | 'strong', colour = 'black'): void {
  pen.doc.font(font).fontSize(size);
  const height = pen.doc.heightOfString(text, { width: INNER });
  makeRoom(pen, height);
  pen.doc.fillColor(colour).text(text, PAGE.margin, pen.y, { width: INNER });
  pen.y += height + 2;
}

function drawHeading(pen: Pen, text: string): void {
  makeRoom(pen, 60);
  pen.y += 10;
  write(pen, text, 13, 'strong');
  pen.doc
    .moveTo(PAGE.margin, pen.y)
    .lineTo(PAGE.width - PAGE.margin, pen.y)
    .lineWidth(0.6)
    .stroke(GREY);
  pen.y += 6;
}

function drawFirst(pen: Pen, { title, lines, picture, size, findings }: ReportPages): void {
  write(pen, title, 20, 'strong');
  for (const line of lines) write(pen, line, 10.5, 'text');
  pen.y += 6;
  const scale = Math.min(INNER / size.width, (BOTTOM - pen.y - 20) / size.height);
  const [width, height] = [size.width * scale, size.height * scale];
  const [left, top] = [PAGE.margin + (INNER - width) / 2, pen.y];
  pen.doc.image(picture, left, top, { width, height });
  findings.forEach(({ polygon }, k) => {
    const [first, ...rest] = polygon.map(([x, y]) => [left + x * scale, top + y * scale] as const);
    if (!first) return;
    pen.doc.moveTo(...first);
    for (const corner of rest) pen.doc.lineTo(...corner);
    // White below: the line is seen on every ground.
    pen.doc.closePath().lineWidth(2).stroke('white');
    pen.doc.moveTo(...first);
    for (const corner of rest) pen.doc.lineTo(...corner);
    pen.doc.closePath().lineWidth(0.9).stroke(INK);
    drawNumber(pen.doc, k + 1, first[0], first[1]);
  });
  pen.y = top + height + 6;
}

function drawNumber(doc: Pdf, n: number, x: number, y: number): void {
  doc.circle(x, y, 6).fill('white');
  doc.circle(x, y, 6).lineWidth(0.7).stroke(INK);
  doc
    .font('strong')
    .fontSize(7)
    .fillColor(INK)
    .text(String(n), x - 8, y - 4, { width: 16, align: 'center', lineBreak: false });
}

function drawFindings(pen: Pen, { findings, unlisted }: ReportPages): void {
  drawHeading(pen, 'Findings, each as it came and as it is now');
  findings.forEach(({ title, fate, words, before, after }, k) => {
    makeRoom(pen, CROP_PT + 8);
    const top = pen.y;
    pen.doc.image(before, PAGE.margin, top, { width: CROP_PT, height: CROP_PT });
    pen.doc.image(after, PAGE.margin + CROP_PT + 5, top, { width: CROP_PT, height: CROP_PT });
    const [x, width] = [PAGE.margin + 2 * CROP_PT + 16, INNER - 2 * CROP_PT - 16];
    pen.doc.font('strong').fontSize(10.5).fillColor('black');
    pen.doc.text(`${k + 1}  ${title}`, x, top, { width });
    pen.doc.font('strong').fontSize(9).fillColor(GREY).text(fate, { width });
    pen.doc.font('text').fontSize(9).fillColor('black');
    pen.doc.text(words, { width, height: top + CROP_PT - pen.doc.y, ellipsis: true });
    pen.y = top + CROP_PT + 8;
  });
  if (unlisted > 0) write(pen, `${unlisted} more that show less are in the report file.`, 9, 'text', GREY);
}

function drawList(pen: Pen, heading: string, lines: readonly string[], none: string): void {
  drawHeading(pen, heading);
  if (lines.length === 0) write(pen, none, 9.5, 'text', GREY);
  for (const line of lines) write(pen, line, 9.5, 'text');
}

const COLUMNS = [
  ['Frame', 0.34, 'left'],
  ['Share', 0.12, 'right'],
  ['Scale', 0.14, 'right'],
  ['Shift, px', 0.24, 'right'],
  ['Left, px', 0.16, 'right'],
] as const;

function drawFrames(pen: Pen, frames: Report['frames']): void {
  drawHeading(pen, 'Frames and how they lie');
  drawRow(
    pen,
    COLUMNS.map(([name]) => name),
    'strong',
  );
  for (const { file, share, alignment } of frames) {
    const { scale, shiftPx, residualPx } = alignment;
    drawRow(
      pen,
      [
        file,
        `${(100 * share).toFixed(1)} %`,
        scale.toFixed(4),
        shiftPx.map((v) => v.toFixed(1)).join(', '),
        residualPx === null ? '–' : residualPx.toFixed(2),
      ],
      'text',
    );
  }
}

function drawRow(pen: Pen, cells: readonly string[], font: 'text' | 'strong'): void {
  makeRoom(pen, 13);
  let x = PAGE.margin;
  COLUMNS.forEach(([, part, align], k) => {
    const width = part * INNER;
    pen.doc.font(font).fontSize(9).fillColor('black');
    pen.doc.text(cells[k]!, x, pen.y, { width: width - 4, height: 11, align, ellipsis: true, lineBreak: false });
    x += width;
  });
  pen.y += 13;
}

function numberPages(doc: Pdf, title: string): void {
  const { start, count } = doc.bufferedPageRange();
  for (let k = 0; k < count; k++) {
    doc.switchToPage(start + k);
    doc
      .font('text')
      .fontSize(8)
      .fillColor(GREY)
      .text(`${title} · page ${k + 1} of ${count}`, PAGE.margin, PAGE.height - PAGE.margin, {
        width: INNER,
        align: 'center',
        lineBreak: false,
      });
  }
}
