// What became of somebody's letters, reckoned slowly: loops over each letter and each event, as somebody would count them
// on paper. It shares nothing with the statements and bits that the program counts by, and is what those are tried against.

/** One letter to one person, as it stands. Moments in milliseconds since 1970. */
export interface LetterRow {
  readonly campaign: number;
  readonly state: string;
  readonly bounce: string | null;
  /** The address it went to; any text that tells addresses apart. */
  readonly to: string;
  readonly triedAt: number | null;
  readonly acceptedAt: number | null;
}

/** One line of the log. */
export interface EventRow {
  readonly campaign: number;
  readonly kind: string;
  readonly at: number;
  readonly machine: boolean;
  readonly link: number | null;
}

/** What readers, and machines, did with one letter. */
export interface LetterReckoning {
  opens: number;
  machineOpens: number;
  clicks: number;
  machineClicks: number;
  firstOpened: number | null;
  lastOpened: number | null;
  firstClicked: number | null;
  lastClicked: number | null;
  links: number[];
  machineLinks: number[];
  left: number | null;
  complained: number | null;
  replied: number | null;
}

/** The log of one letter, read from its first line to its last. Who clicked has opened. */
export function reckonLetter(campaign: number, events: readonly EventRow[]): LetterReckoning {
  const found: LetterReckoning = {
    opens: 0,
    machineOpens: 0,
    clicks: 0,
    machineClicks: 0,
    firstOpened: null,
    lastOpened: null,
    firstClicked: null,
    lastClicked: null,
    links: [],
    machineLinks: [],
    left: null,
    complained: null,
    replied: null,
  };
  const firstOf = (known: number | null, at: number): number =>
    known === null || at < known ? at : known;
  const lastOf = (known: number | null, at: number): number =>
    known === null || at > known ? at : known;
  for (const event of events) {
    if (event.campaign !== campaign) continue;
    if (event.kind === 'left') found.left = firstOf(found.left, event.at);
    if (event.kind === 'complained') found.complained = firstOf(found.complained, event.at);
    if (event.kind === 'replied') found.replied = firstOf(found.replied, event.at);
    if (event.kind !== 'opened' && event.kind !== 'clicked') continue;
    if (event.kind === 'clicked' && event.link !== null) {
      const own = event.machine ? found.machineLinks : found.links;
      if (!own.includes(event.link)) own.push(event.link);
    }
    if (event.machine) {
      if (event.kind === 'opened') found.machineOpens++;
      else found.machineClicks++;
      continue;
    }
    if (event.kind === 'opened') found.opens++;
    else {
      found.clicks++;
      found.firstClicked = firstOf(found.firstClicked, event.at);
      found.lastClicked = lastOf(found.lastClicked, event.at);
    }
    found.firstOpened = firstOf(found.firstOpened, event.at);
    found.lastOpened = lastOf(found.lastOpened, event.at);
  }
  found.links.sort((a, b) => a - b);
  found.machineLinks.sort((a, b) => a - b);
  return found;
}

/** The figures that stand with a person. */
export interface PersonReckoning {
  delivered: number;
  opened: number;
  clicked: number;
  lastSent: number | null;
  lastOpened: number | null;
  lastClicked: number | null;
}

export function reckonPerson(
  letters: readonly LetterRow[],
  events: readonly EventRow[],
): PersonReckoning {
  const found: PersonReckoning = {
    delivered: 0,
    opened: 0,
    clicked: 0,
    lastSent: null,
    lastOpened: null,
    lastClicked: null,
  };
  const later = (known: number | null, at: number | null): number | null =>
    at === null || (known !== null && known >= at) ? known : at;
  for (const letter of letters) {
    const did = reckonLetter(letter.campaign, events);
    if (letter.state === 'accepted') found.delivered++;
    if (did.firstOpened !== null) found.opened++;
    if (did.firstClicked !== null) found.clicked++;
    found.lastSent = later(found.lastSent, letter.acceptedAt);
    found.lastOpened = later(found.lastOpened, did.lastOpened);
    found.lastClicked = later(found.lastClicked, did.lastClicked);
  }
  return found;
}

/**
 * Letters that came back in a row at an address since the last that got through: softly or given up (`soft`), or refused for
 * reasons nobody could read (`unread`). Those tried up to `since` are forgotten.
 */
export function reckonBounces(
  letters: readonly LetterRow[],
  address: string | null,
  since: number | null,
): { soft: number; unread: number } {
  let from = since ?? -Infinity;
  const own = letters.filter(({ to }) => to === address);
  for (const { state, triedAt } of own)
    if (state === 'accepted' && triedAt !== null && triedAt > from) from = triedAt;
  let [soft, unread] = [0, 0];
  for (const { state, bounce, triedAt } of own) {
    if (triedAt === null || triedAt <= from) continue;
    if (state === 'gave up' || (state === 'bounced' && bounce === 'soft')) soft++;
    if (state === 'bounced' && bounce === 'other') unread++;
  }
  return { soft, unread };
}

/** The letters to somebody in the order in which they were sent, the latest first. */
export function latestFirst<L extends Pick<LetterRow, 'campaign' | 'triedAt' | 'acceptedAt'>>(
  letters: readonly L[],
): L[] {
  const at = (letter: L): number => letter.triedAt ?? letter.acceptedAt ?? -Infinity;
  return [...letters].sort((a, b) => {
    const [one, other] = [at(a), at(b)];
    return one === other ? b.campaign - a.campaign : other > one ? 1 : -1;
  });
}
