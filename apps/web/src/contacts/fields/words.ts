// What the kinds of fields are called.
import { offered, type Field, type FieldType } from '@palabra/core/contacts';

export const typeWords: { readonly [T in FieldType]: string } = {
  text: 'text',
  'long text': 'long text',
  number: 'number',
  money: 'amount of money',
  date: 'date',
  'yes or no': 'yes or no',
  choice: 'one choice',
  choices: 'several choices',
  link: 'link',
  computed: 'computed from a day',
  phone: 'phone number',
  phones: 'phone numbers',
  addresses: 'addresses',
};

/** What a field is, in a few words; `fields` are all of the office. */
export function kindWords(field: Field, fields: readonly Field[]): string {
  switch (field.type) {
    case 'choice':
      return `one of ${offered(field).length}`;
    case 'choices':
      return `several of ${offered(field).length}`;
    case 'money':
      return `amount in ${field.currency ?? '?'}`;
    case 'computed': {
      const day = fields.find(({ key }) => key === field.since?.day);
      return `${field.since?.unit ?? ''} since ${day?.label ?? 'a day that is gone'}`;
    }
    default:
      return typeWords[field.type];
  }
}

/** Currencies (ISO 4217) with their names. */
export function currencies(): { value: string; label: string }[] {
  const names = new Intl.DisplayNames('en', { type: 'currency' });
  return Intl.supportedValuesOf('currency').map((code) => ({
    value: code,
    label: `${code}, ${names.of(code) ?? code}`,
  }));
}
