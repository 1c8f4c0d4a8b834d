import { refusalsOf } from '../platform/refusals.js';

const notThatKind = (what: string, more: string) =>
  `This is ${what}. Bring the list as a workbook, a CSV file or visiting cards${more}.`;

export const refuse = refusalsOf('intake', {
  'begun-already': { status: 422, words: 'This import has begun already.' },
  'not-running': { status: 422, words: 'This import is not running.' },
  'not-finished': { status: 422, words: 'Only a finished import can be taken back.' },
  'other-columns': {
    status: 422,
    words: (has: number, given: number) => `The file has ${has} columns, not ${given}.`,
  },
  'no-such-field': {
    status: 422,
    words: 'One of the fields no longer exists. Choose another.',
  },
  'field-twice': {
    status: 422,
    words: (field: string) => `Two columns would fill “${field}”. Choose one.`,
  },
  'no-address-column': {
    status: 422,
    words: 'Say which column holds the email address; people are matched by it.',
  },
  'no-source': {
    status: 422,
    words: 'Say where and how these people agreed; later every letter must say why it arrives.',
  },
  'no-such-tag': { status: 422, words: 'One of the tags no longer exists. Choose another.' },
  encrypted: {
    status: 415,
    words:
      'This workbook has a password, or is of before 2007. Save it as XLSX without a password, or as CSV.',
  },
  'other-workbook': {
    status: 415,
    words:
      'This is a workbook of another kind, or an archive. Save it as XLSX or CSV in your spreadsheet program and bring that.',
  },
  'broken-workbook': {
    status: 422,
    words:
      'This workbook is damaged and can’t be read to its end. Save it again in your spreadsheet program, or as CSV.',
  },
  'large-workbook': {
    status: 413,
    words: 'This file holds more than can be unpacked here. Save the sheet as CSV and bring that.',
  },
  'no-sheet': { status: 422, words: 'The workbook has no such sheet. Choose another.' },
  'no-cards': { status: 422, words: 'There is no whole visiting card in this file.' },
  'no-original': {
    status: 422,
    words: 'The workbook is not kept any more; only this sheet of it is.',
  },
  'plan-changed': {
    status: 409,
    words:
      'What is said of this file was changed in another tab. Look at it again, then bring it in.',
  },
  'no-such-pool': { status: 422, words: 'This pool no longer exists. Choose another.' },
  'no-such-owner': {
    status: 422,
    words: 'This colleague can’t look after people. Choose another.',
  },
  'not-theirs': { status: 422, words: 'Whom a member brings in, they look after themselves.' },
  'no-number-column': {
    status: 422,
    words: 'Say which column holds the external number; people are matched by it.',
  },
  'way-of-field': {
    status: 422,
    words: (field: string) => `“${field}” can’t be added to. Choose another way.`,
  },
  'fixed-value': { status: 422, words: (why: string) => `For everybody new: ${why}.` },
  'not-yet': {
    status: 422,
    words: 'The rows are being looked at. Wait a moment, then mend them.',
  },
  'no-such-row': { status: 404, words: 'There is no such row in this file.' },
  'no-such-column': { status: 422, words: 'The file has no such column.' },
  'no-table': {
    status: 415,
    words: (what: string) => notThatKind(what, ': a spreadsheet or an address book can save it so'),
  },
  pdf: { status: 415, words: notThatKind('a PDF', '') },
  'no-text': { status: 415, words: 'This file is not text. Bring the list as a CSV file.' },
  'torn-table': {
    status: 422,
    words: (line: number | undefined, isUnclosed: boolean) =>
      `The file can’t be read as a table${line ? ` from line ${line} on` : ''}${isUnclosed ? ': a quotation mark is never closed' : ''}. Check the separator, or save it again as CSV.`,
  },
  'long-cell': {
    status: 422,
    words: (line: number, most: number) =>
      `The row on line ${line} has a cell of more than ${most} signs. Is a quotation mark missing?`,
  },
  empty: { status: 422, words: 'The file is empty.' },
  'many-columns': {
    status: 422,
    words: (most: number) =>
      `The file has more than ${most} columns; ${most} are the most. Is the separator right?`,
  },
  'header-alone': { status: 422, words: 'The file has a header but no rows.' },
});
