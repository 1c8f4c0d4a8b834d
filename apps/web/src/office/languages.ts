// The languages that letters are written in, by their names.
const names = new Intl.DisplayNames('en', { type: 'language' });

const TAGS =
  'ar bg bn bs ca cs cy da de el en en-GB en-US es et eu fa fi fr ga gl he hi hr hu id is it ja ka ko lb lt lv mk mt nb nl nn pl pt pt-BR ro ru sk sl sq sr sv th tr uk ur vi zh-Hans zh-Hant';

export const LANGUAGES = TAGS.split(' ')
  .map((value) => ({ value, label: names.of(value) ?? value }))
  .sort((a, b) => a.label.localeCompare(b.label));
