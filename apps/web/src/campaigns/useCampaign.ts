// A campaign's sheet as it is edited: kept as it is made, from its first name or content on.
import type { CampaignReply } from '@palabra/contract/campaigns';
import type { Who, WhoRef } from '@palabra/core/campaigns';
import type { OfficeReply } from '@palabra/contract/office';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useDraft, type Draft } from '../api/drafts';
import { longDate } from '../ui/time';
import { useAddCampaignMutation, useSaveCampaignMutation } from './campaigns.api';

export interface CampaignDraft {
  readonly name: string;
  readonly who: Who;
  readonly letterId: number | null;
  readonly topicId: number | null;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly replyTo: string;
  readonly sendAt: string | null;
}

/** What each part of a sheet is given. */
export interface PartProps {
  readonly id: number | undefined;
  readonly value: CampaignDraft;
  readonly disabled: boolean;
  readonly onChange: (part: Partial<CampaignDraft>) => void;
}

export const draftOf = ({
  name,
  who,
  letterId,
  topicId,
  senderName,
  senderAddress,
  replyTo,
  sendAt,
}: CampaignDraft): CampaignDraft => ({
  name,
  who,
  letterId,
  topicId,
  senderName,
  senderAddress,
  replyTo,
  sendAt,
});

export type CampaignStart = CampaignDraft &
  Pick<CampaignReply, 'version' | 'names' | 'whoUsed'> & {
    readonly id: number | undefined;
  };

/** A sheet that nobody has written on yet; `to` is whom it begins with, kept at once. */
export const newCampaign = (
  office: OfficeReply,
  { name, to }: { readonly name?: string; readonly to?: WhoRef } = {},
): CampaignStart => ({
  id: undefined,
  version: 0,
  names: {},
  whoUsed: null,
  name: name || `Campaign of ${longDate(new Date().toISOString().slice(0, 10))}`,
  who: { to: to === undefined ? [] : [to], notTo: [] },
  letterId: null,
  topicId: null,
  senderName: office.senderName,
  senderAddress: office.senderAddress,
  replyTo: '',
  sendAt: null,
});

export interface CampaignModel {
  /** Undefined until it has a name or a content: then it is kept. */
  readonly id: number | undefined;
  readonly draft: Draft<CampaignDraft>;
  readonly change: (part: Partial<CampaignDraft>) => void;
}

export function useCampaign(campaign: CampaignStart): CampaignModel {
  const [id, setId] = useState(campaign.id);
  /** The same, for a save that follows at once. */
  const kept = useRef(campaign.id);
  const navigate = useNavigate();
  const [add] = useAddCampaignMutation();
  const [save] = useSaveCampaignMutation();
  const draft = useDraft<CampaignDraft>({
    value: draftOf(campaign),
    version: campaign.version,
    save: async (value, version) => {
      if (kept.current !== undefined) return save({ id: kept.current, version, ...value }).unwrap();
      const made = await add({ name: value.name }).unwrap();
      kept.current = made.id;
      const saved = await save({ id: made.id, version: made.version, ...value }).unwrap();
      setId(made.id);
      void navigate(`/campaigns/${made.id}`, { replace: true });
      return saved;
    },
    read: (theirs: CampaignDraft) => draftOf(theirs),
  });
  const { change } = draft;
  const isFilled = campaign.id === undefined && campaign.who.to.length > 0;
  useEffect(() => {
    if (isFilled) change((before) => ({ ...before }));
  }, [isFilled, change]);
  return {
    id,
    draft,
    change: (part) => draft.change((before) => ({ ...before, ...part })),
  };
}
