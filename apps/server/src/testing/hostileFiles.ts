// Files that mean harm, built in code: for tests of the codecs and for the campaign.

/** A TIFF of pages that all show the same strip: some 100 bytes a page, whatever their size. */
export function manyPages(pages: number, width: number, height: number): Buffer {
  const entries: (readonly [tag: number, type: number, value: number])[] = [
    [256, 4, width],
    [257, 4, height],
    [258, 3, 8],
    [259, 3, 1],
    [262, 3, 1],
    [273, 4, 8],
    [277, 3, 1],
    [278, 4, height],
    [279, 4, width * height],
  ];
  const size = 2 + entries.length * 12 + 4;
  const file = Buffer.alloc(16 + pages * size);
  file.write('II', 0, 'latin1');
  file.writeUInt16LE(42, 2);
  file.writeUInt32LE(16, 4);
  for (let page = 0; page < pages; page++) {
    const at = 16 + page * size;
    file.writeUInt16LE(entries.length, at);
    entries.forEach(([tag, type, value], i) => {
      const to = at + 2 + i * 12;
      file.writeUInt16LE(tag, to);
      file.writeUInt16LE(type, to + 2);
      file.writeUInt32LE(1, to + 4);
      file.writeUInt32LE(value, to + 8);
    });
    file.writeUInt32LE(page + 1 < pages ? at + size : 0, at + size - 4);
  }
  return file;
}
