// Opens and clicks that machines make: proxies that fetch pictures ahead, scanners that try every link.
// Every rule errs on the side of not counting: a person's own later click counts in any case.

export interface Hit {
  readonly method: string;
  readonly knownAgent: boolean;
  /** `Purpose`, `Sec-Purpose` or `X-Moz` header. */
  readonly purpose: string;
  readonly agent: string;
}

/** What programs that look at mail for somebody call themselves, beyond the common lists of robots. */
const AGENTS =
  /\b(image|mail|link|url|privacy|safe)?-?(proxy|scanner|prefetch(er)?|checker|inspector|gateway|protection)\b/i;

/** Why a request by itself counts as a machine's, or undefined when it may be a person's. */
export function machineReason({ method, knownAgent, purpose, agent }: Hit): string | undefined {
  if (method === 'HEAD') return 'asked for the header only';
  if (/prefetch|preview/i.test(purpose)) return 'fetched ahead';
  if (agent.trim() === '') return 'named no program';
  if (knownAgent) return 'a known robot';
  return AGENTS.test(agent) ? 'a mail scanner or proxy' : undefined;
}

/** A person needs longer to see a letter come in, open it and read; in milliseconds of reader time. */
export const TOO_SOON = 3000;
/** Several different links within this time are followed by a scanner, in milliseconds. */
export const AT_ONCE = 1000;

/** One open or click of one delivery. */
export interface ReaderHit {
  readonly kind: 'opened' | 'clicked';
  readonly at: Date;
  readonly link: number | null;
  /** Why it is a machine's, as far as the request itself shows. */
  readonly why: string | null;
}

export interface DeliverySeen {
  /** When the mail server took the letter; null as long as that is not known. */
  readonly acceptedAt: Date | null;
  /** Whether it is just being handed over. */
  readonly isUnderWay: boolean;
  /** Numbers of links that no person can see. */
  readonly hiddenLinks: readonly number[];
}

/**
 * Labels the hits of one delivery, in the order of `hits`; `before` are clicks written earlier, at most
 * `AT_ONCE` before the first hit. Also returns which of `before` turn out to have been a machine's.
 * `pace`: how many times faster than real time readers live.
 */
export function labelHits(
  hits: readonly ReaderHit[],
  before: readonly ReaderHit[],
  { acceptedAt, isUnderWay, hiddenLinks }: DeliverySeen,
  pace = 1,
): {
  readonly why: readonly (string | null)[];
  readonly relabel: readonly { readonly at: number; readonly why: string }[];
} {
  const clicks = [...before, ...hits].filter(({ kind }) => kind === 'clicked');
  const near = (hit: ReaderHit): readonly ReaderHit[] =>
    clicks.filter((other) => Math.abs(other.at.getTime() - hit.at.getTime()) <= AT_ONCE);
  const ofClicks = (hit: ReaderHit): string | null => {
    if (hit.kind !== 'clicked') return null;
    const company = near(hit);
    if (company.some(({ link }) => link !== null && hiddenLinks.includes(link)))
      return 'followed a link that no person can see';
    return company.some(({ link }) => link !== hit.link) ? 'several links within a second' : null;
  };
  const tooSoon = (hit: ReaderHit): string | null => {
    const since = acceptedAt ? hit.at.getTime() - acceptedAt.getTime() : isUnderWay ? 0 : Infinity;
    return since < TOO_SOON / pace ? 'within seconds of delivery' : null;
  };
  return {
    why: hits.map((hit) => hit.why ?? ofClicks(hit) ?? tooSoon(hit)),
    relabel: before.flatMap((hit, at) => {
      const why = hit.why === null ? ofClicks(hit) : null;
      return why ? [{ at, why }] : [];
    }),
  };
}
