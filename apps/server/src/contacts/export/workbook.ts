// A workbook of one sheet, written as its rows come (ECMA-376, SpreadsheetML): texts stand in their cells, so that nothing is
// gathered, and none becomes a formula.
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { beginning } from '@palabra/core/contacts';
import { ZipFile } from 'yazl';

export type Cell = string | number | null;

const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const RELATIONS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const TYPES = 'application/vnd.openxmlformats-officedocument.spreadsheetml';

const relations = (...parts: readonly (readonly [type: string, target: string])[]): string =>
  `${HEAD}<Relationships xmlns="${PACKAGE}/relationships">${parts.map(([type, target], at) => `<Relationship Id="rId${at + 1}" Type="${RELATIONS}/${type}" Target="${target}"/>`).join('')}</Relationships>`;

const parts: Readonly<Record<string, string>> = {
  '[Content_Types].xml': `${HEAD}<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${TYPES}.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="${TYPES}.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="${TYPES}.styles+xml"/></Types>`,
  '_rels/.rels': relations(['officeDocument', 'xl/workbook.xml']),
  'xl/workbook.xml': `${HEAD}<workbook xmlns="${MAIN}" xmlns:r="${RELATIONS}"><sheets><sheet name="Contacts" sheetId="1" r:id="rId1"/></sheets></workbook>`,
  'xl/_rels/workbook.xml.rels': relations(
    ['worksheet', 'worksheets/sheet1.xml'],
    ['styles', 'styles.xml'],
  ),
  // Style 1 is that of the head.
  'xl/styles.xml': `${HEAD}<styleSheet xmlns="${MAIN}"><fonts count="2"><font/><font><b/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="2"><xf/><xf fontId="1" applyFont="1"/></cellXfs></styleSheet>`,
};

/** As many signs as a cell may have. */
const LONGEST = 32_767;
// eslint-disable-next-line no-control-regex -- signs that XML 1.0 has no way to write
const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;
const SIGNS: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;' };

const written = (text: string): string =>
  beginning(text, LONGEST)
    .replace(/\p{Cs}/gu, '\ufffd')
    .replace(UNWRITABLE, '')
    // What looks like an escaped sign (ST_Xstring) is meant as it stands.
    .replace(/_(?=x[\da-f]{4}_)/gi, '_x005F_')
    .replace(/[&<>]/g, (sign) => SIGNS[sign] ?? sign)
    // XML makes a line feed of it, unless it is named.
    .replaceAll('\r', '&#13;');

/** A, B, …, Z, AA: what the column with this number, from 0, is called. */
const columnName = (at: number): string =>
  (at < 26 ? '' : columnName(Math.floor(at / 26) - 1)) + String.fromCharCode(65 + (at % 26));

const cell = (value: Cell, at: string): string =>
  value === null || value === '' || value === Infinity || value === -Infinity
    ? ''
    : typeof value === 'number'
      ? `<c ${at}><v>${value}</v></c>`
      : `<c ${at} t="inlineStr"><is><t xml:space="preserve">${written(value)}</t></is></c>`;

const row = (cells: readonly Cell[], number: number, style = ''): string =>
  `<row r="${number}">${cells.map((value, at) => cell(value, `r="${columnName(at)}${number}"${style}`)).join('')}</row>`;

async function* sheet(head: readonly string[], rows: AsyncIterable<readonly Cell[]>) {
  yield `${HEAD}<worksheet xmlns="${MAIN}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><sheetData>${row(head, 1, ' s="1"')}`;
  let number = 1;
  for await (const cells of rows) yield row(cells, ++number);
  yield '</sheetData></worksheet>';
}

/** Writes the workbook and ends the stream; gives up when the stream closes. */
export async function writeWorkbook(
  head: readonly string[],
  rows: AsyncIterable<readonly Cell[]>,
  out: Writable,
): Promise<void> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(parts)) zip.addBuffer(Buffer.from(text), name);
  const content = Readable.from(sheet(head, rows));
  const failed = new Promise<never>((_, reject) => content.once('error', reject));
  zip.addReadStream(content, 'xl/worksheets/sheet1.xml');
  zip.end();
  try {
    await Promise.race([failed, pipeline(zip.outputStream, out)]);
  } finally {
    content.destroy();
  }
}
