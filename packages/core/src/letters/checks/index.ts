// What a letter must have before it may go. A new check is a file beside this, named in the list here.
import type { Finding, LetterCheck, LetterSituation } from './kind.js';
import { links } from './links.js';
import { personalFields } from './personal-fields.js';
import { pictures } from './pictures.js';
import { postalAddress } from './postal-address.js';
import { preview } from './preview.js';
import { somethingToRead } from './something-to-read.js';
import { subject } from './subject.js';
import { wayOut } from './way-out.js';

export { PREVIEW } from './preview.js';
export type { Finding, LetterSituation, Place } from './kind.js';

/** By the words for what passes, in the order in which they are said. */
const letterChecks = {
  subject,
  'preview line': preview,
  content: somethingToRead,
  links,
  pictures,
  'way out': wayOut,
  'postal address': postalAddress,
  'personal fields': personalFields,
} as const satisfies Readonly<Record<string, LetterCheck>>;
export type LetterCheckName = keyof typeof letterChecks;

export type CheckLevel = Finding['level'] | 'passed';

/** What a check says: a finding, or that all is well. */
export type CheckResult<Name extends string = string> =
  | ({ readonly check: Name } & Finding)
  | {
      readonly check: Name;
      readonly level: 'passed';
      readonly text: Name;
      readonly place?: undefined;
    };

/** Runs checks by their names, each as many results as it has findings, one where it has none. */
export function runChecks<Name extends string, Situation>(
  checks: Readonly<Record<Name, (situation: Situation) => readonly Finding[]>>,
  situation: Situation,
): CheckResult<Name>[] {
  return (Object.keys(checks) as Name[]).flatMap((check): CheckResult<Name>[] => {
    const found = checks[check](situation);
    return found.length === 0
      ? [{ check, level: 'passed', text: check }]
      : found.map((finding) => ({ check, ...finding }));
  });
}

export const checkLetter = (situation: LetterSituation): CheckResult<LetterCheckName>[] =>
  runChecks(letterChecks, situation);
