// Days that are kept as moments, because they are known by the system.
export const moments = ['came_in', 'changed', 'last_letter', 'last_response'] as const;
export type MomentKey = (typeof moments)[number];
