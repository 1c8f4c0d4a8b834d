/** What the desk says is asked anew while somebody looks. */
export const fresh = {
  refetchOnMountOrArgChange: true,
  pollingInterval: 15_000,
  skipPollingIfUnfocused: true,
} as const;
