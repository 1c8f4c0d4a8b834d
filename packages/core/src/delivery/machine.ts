// Opens and clicks that machines make, where they show themselves plainly.

export interface Hit {
  readonly method: string;
  readonly knownAgent: boolean;
  /** `Purpose`, `Sec-Purpose` or `X-Moz` header. */
  readonly purpose: string;
  readonly agent: string;
}

/** Why a hit counts as a machine's, or undefined when it may be a person's. */
export function machineReason({ method, knownAgent, purpose, agent }: Hit): string | undefined {
  if (method === 'HEAD') return 'asked for the header only';
  if (/prefetch|preview/i.test(purpose)) return 'fetched ahead';
  if (agent.trim() === '') return 'named no program';
  return knownAgent ? 'a known robot' : undefined;
}
