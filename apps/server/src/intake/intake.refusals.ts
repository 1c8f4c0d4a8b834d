import { refusalsOf } from '../platform/refusals.js';

const notThatKind = (what: string, more: string) =>
  `This is ${what}. Bring the list as a CSV file${more}.`;

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
  workbook: {
    status: 415,
    words:
      'This is a spreadsheet workbook or an archive. Save the sheet as CSV in your spreadsheet program and bring that.',
  },
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
