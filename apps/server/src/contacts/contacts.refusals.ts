import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('contacts', {
  'no-places': {
    status: 422,
    words:
      'No place stands in this file. It should be one of GeoNames: a line for each place, with tabs between its columns.',
  },
  'places-being-read': {
    status: 409,
    words: 'Another file of places is being read just now. Load this one when that is done.',
  },
  'same-owner': { status: 422, words: 'That is the same colleague. Choose another one.', at: 'to' },
  'no-such-field': { status: 422, words: 'There is no such field.' },
  'not-text': { status: 422, words: (field: string) => `${field} must be text.` },
  'no-address': {
    status: 422,
    words: (why: string) => `This is not an address: ${why}.`,
    at: 'values.address',
  },
  'bad-value': { status: 422, words: (why: string) => `${why}.` },
  'no-owner': { status: 422, words: 'A contact has an owner.', at: 'values.owner' },
  'neither-name-nor-address': {
    status: 422,
    words: 'A contact needs a name or an address.',
    at: 'values.address',
  },
  'nothing-to-keep': { status: 422, words: 'There is nothing to keep.' },
  'address-taken': {
    status: 422,
    words: 'Somebody else in this pool has this address already.',
    at: 'values.address',
  },
  /** Of a colleague's people: no more is said. */
  'address-not-usable': {
    status: 422,
    words: 'This address can’t be used here. A coordinator can tell why.',
    at: 'values.address',
  },
  'many-addresses-tried': {
    status: 429,
    words: 'Many addresses could not be used today. Ask a coordinator to add these people.',
  },
  'not-yours-to-give': {
    status: 403,
    words: 'Only a coordinator gives people to another owner.',
  },
  'not-yours-to-say': {
    status: 403,
    words: 'Only their owner or a coordinator says whose somebody is, and who sees them.',
  },
  'not-yours-to-move': { status: 403, words: 'Only a coordinator moves people to another pool.' },
  'has-no-address': { status: 422, words: 'This person has no address.' },
  'colleague-put-there': {
    status: 403,
    words: 'A colleague put this address on do not mail. They, or a coordinator, can take it off.',
  },
  'only-the-reader': {
    status: 422,
    words:
      'Who left, complained or has a dead address can’t be put back by hand; only the reader can come back.',
  },
  'address-erased': {
    status: 422,
    words: (address: string) =>
      `The owner of “${address}” asked to be erased. Only they themselves can come back, by the page behind an earlier letter.`,
    at: 'values.address',
  },
  'changed-meanwhile': {
    status: 409,
    words: 'They were changed at this moment. Nothing was erased; look again, then erase.',
  },
  'no-such-set': { status: 404, words: 'This set of people is not there any more.' },
  'no-such-filter': {
    status: 404,
    words:
      'This filter is not there any more, or asks for a field, tag or topic that is gone. Take it away, or make it anew.',
  },
  'no-such-deed': { status: 422, words: (why: string) => why, at: 'deed' },
  'no-such-moment': { status: 400, words: 'This part of the timeline can’t be found.' },
  'tag-exists': {
    status: 422,
    words: (name: string) => `There is a tag “${name}” already, which reads the same.`,
  },
  'same-tag': {
    status: 422,
    words: 'That is the same tag. Choose another one to merge it into.',
    at: 'into',
  },
  'tag-is-waited-for': {
    status: 422,
    words: (campaign: string) =>
      `The campaign “${campaign}” waits to go out and goes by this tag. Take the tag out of its sheet, or wait until it is sent.`,
  },
  'topic-exists': {
    status: 422,
    words: (name: string) => `There is a topic “${name}” already.`,
    at: 'name',
  },
  'topic-has-no-name': { status: 422, words: 'A topic needs a name.', at: 'name' },
  'field-exists': {
    status: 422,
    words: (label: string) => `There is a field “${label}” already.`,
    at: 'label',
  },
  'field-name-taken': {
    status: 422,
    words: (label: string) =>
      `There is another field “${label}” by now. Rename that one, then bring this one back.`,
  },
  'bad-field': { status: 422, words: (why: string) => why },
  'many-fields': {
    status: 422,
    words: (most: number) => `An office has at most ${most} fields. Take out one that nobody uses.`,
  },
  'no-such-type': { status: 422, words: 'This field can’t be made one of that type.', at: 'type' },
  'external-number-taken': {
    status: 422,
    words: 'Somebody else in this pool has this external number already.',
    at: 'values.external_number',
  },
  /** Of a colleague's people: no more is said. */
  'external-number-not-usable': {
    status: 422,
    words: 'This external number can’t be used here. A coordinator can tell why.',
    at: 'values.external_number',
  },
  'required-field': {
    status: 422,
    words: (label: string) => `${label} is required: fill it in.`,
  },
  'automatic-tag': {
    status: 422,
    words: 'This tag is set by the system and can’t be put on by hand.',
  },
  'stays-as-it-is': { status: 422, words: 'This change can’t be taken back.' },
  'still-being-made': {
    status: 422,
    words: 'This change is still being made. Wait until it is done, then take it back.',
  },
  'taken-back-already': { status: 422, words: 'This change was taken back already.' },
  'done-already': {
    status: 422,
    words: 'This change is done already, or goes on to its end; take it back then.',
  },
});
