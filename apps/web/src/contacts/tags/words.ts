// What names a tag, in words.
import type { TagUse, TagUseKind } from '@palabra/contract/contacts';

export const usePlaces: {
  readonly [K in TagUseKind]: {
    readonly one: string;
    readonly many: string;
    readonly path: (id: number) => string;
  };
} = {
  segment: { one: 'segment', many: 'segments', path: (id) => `/segments/${id}` },
  draft: {
    one: 'draft of a segment',
    many: 'drafts of segments',
    path: (id) => `/segments/${id}`,
  },
  view: { one: 'view', many: 'views', path: (id) => `/contacts?view=${id}` },
  campaign: { one: 'campaign', many: 'campaigns', path: (id) => `/campaigns/${id}` },
};
export const useKinds = Object.keys(usePlaces) as readonly TagUseKind[];

/** “2 segments, 1 view”. */
export function usesInWords(uses: readonly TagUse[]): string {
  const counted = useKinds.flatMap((kind) => {
    const own = uses.filter((use) => use.kind === kind).length;
    const { one, many } = usePlaces[kind];
    return own === 0 ? [] : [`${own} ${own === 1 ? one : many}`];
  });
  return counted.length === 0 ? 'nothing' : counted.join(', ');
}
