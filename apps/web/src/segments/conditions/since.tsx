// What happened since a campaign began.
import { sinceDeeds, type SinceCondition, type SinceDeed } from '@palabra/core/segments';
import { Flag, Flags, TagPicker } from '../../contacts';
import { Pick } from '../../ui/Pick';
import type { EditorOf } from './kind';
import { Campaigns } from './Campaigns';

const words: { readonly [D in SinceDeed]: string } = {
  'came in': 'came in',
  tagged: 'was tagged',
  changed: 'was changed',
};

export const since: EditorOf<SinceCondition> = {
  choices: ({ campaigns }) =>
    campaigns.length > 0
      ? [{ value: 'since', label: 'since a campaign: came in, tagged, changed' }]
      : [],
  chosen: () => 'since',
  title: 'since a campaign',
  begin: (choice) =>
    choice === 'since' ? { kind: 'since', did: 'came in', campaign: 'latest' } : undefined,
  Operand: ({ condition, context, disabled, onChange }) => {
    const { tags, ...base } = condition;
    return (
      <>
        <Pick<SinceDeed>
          label="What happened"
          disabled={disabled}
          value={condition.did}
          options={sinceDeeds.map((value) => ({ value, label: words[value] }))}
          onChange={(did) => did && onChange({ ...base, did })}
        />
        {condition.did === 'tagged' && (
          <Flags wrap>
            {(tags ?? []).map((id) => {
              const tag = context.tags.find((one) => one.id === id);
              const others = (tags ?? []).filter((one) => one !== id);
              return (
                <Flag
                  key={id}
                  name={tag?.name ?? 'a tag that is gone'}
                  colour={tag?.colour ?? 'slate'}
                  kind={tag?.kind}
                  onTakeOff={
                    disabled
                      ? undefined
                      : () => onChange(others.length > 0 ? { ...base, tags: others } : base)
                  }
                />
              );
            })}
            {!disabled && (
              <TagPicker
                label={tags ? '+ tag' : 'with any tag'}
                leaveOut={tags ?? []}
                onPick={(id) => onChange({ ...base, tags: [...(tags ?? []), id] })}
              />
            )}
          </Flags>
        )}
        <Pick
          label="Since which campaign"
          disabled={disabled}
          value={condition.campaign === 'latest' ? 'latest' : 'given'}
          options={[
            { value: 'latest', label: 'since the latest campaign' },
            { value: 'given', label: 'since' },
          ]}
          onChange={(next) =>
            onChange({
              ...condition,
              campaign: next === 'given' ? (context.campaigns[0]?.id ?? 'latest') : 'latest',
            })
          }
        />
        {condition.campaign !== 'latest' && (
          <Campaigns
            one
            value={[condition.campaign]}
            context={context}
            disabled={disabled}
            onChange={([campaign]) => onChange({ ...condition, campaign: campaign ?? 'latest' })}
          />
        )}
      </>
    );
  },
};
