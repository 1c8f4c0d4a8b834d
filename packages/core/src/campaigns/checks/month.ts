import { lineText, withChildren } from '../../letters/index.js';
import { months } from '../../office/index.js';
import type { CampaignCheck } from './kind.js';

/** Months named in a text; “May” only where it can hardly be the verb. */
const named = (text: string): string[] =>
  months.filter((month) =>
    month === 'May'
      ? /\b(in|of|until|from|this|next) May\b|^May\b/.test(text)
      : new RegExp(`\\b${month}\\b`).test(text),
  );

/** A letter that was copied and still names the month of the last one in its subject or a heading. */
export const month: CampaignCheck = ({ letter, goesOut }) => {
  if (!letter) return [];
  const own = Number(goesOut.slice(5, 7)) - 1;
  // The month of the send and the next one are what a letter speaks of.
  const usual = new Set([months[own], months[(own + 1) % 12]]);
  const lines = [
    { at: 'subject' as const, what: 'subject', text: lineText(letter.content.subject) },
    ...withChildren(letter.content.blocks).flatMap((block) =>
      block.kind === 'heading'
        ? [{ at: 'letter' as const, block: block.id, what: 'heading', text: lineText(block.text) }]
        : [],
    ),
  ];
  const odd = lines.flatMap(({ text, what, ...place }) => {
    const names = named(text);
    return names.length > 0 && !names.some((name) => usual.has(name))
      ? [{ place, what, name: names[0] ?? '' }]
      : [];
  });
  return odd.slice(0, 1).map(({ place, what, name }) => ({
    level: 'caution',
    text: `The letter’s ${what} says ${name}, but it goes out in ${months[own] ?? ''}.`,
    place,
  }));
};
