/** The cells of a block that was copied from a spreadsheet: lines, with tabs between cells; a cell in quotes can have both in it. */
export function cellsOf(text: string): string[][] {
  const lines: string[][] = [[]];
  const cell = /(?:"((?:[^"]|"")*)"|([^\t\r\n]*))(\t|\r\n|\n|\r|$)/y;
  for (;;) {
    const at = cell.lastIndex;
    const m = cell.exec(text);
    if (!m) break;
    lines[lines.length - 1].push(m[1] === undefined ? m[2] : m[1].replaceAll('""', '"'));
    if (m[3] === "" || cell.lastIndex === at) break;
    if (m[3] !== "\t") {
      if (cell.lastIndex === text.length) break;
      lines.push([]);
    }
  }
  return lines;
}
