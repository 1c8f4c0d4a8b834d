// One tag: what it is called and for, which other it may be, what names it, and how it goes away.
import { Button, Group, Modal } from '@mantine/core';
import type { TagLine, TagsReply } from '@palabra/contract/contacts';
import type { TagColour } from '@palabra/core/contacts';
import { useState } from 'react';
import { Link } from 'react-router';
import { useDraft } from '../../api/drafts';
import { command } from '../../ui/command';
import { InPlace } from '../../ui/InPlace';
import { people, peoplePath, Sum } from '../../ui/numbers';
import { MarginPart } from '../../ui/Page';
import { SaveTrouble } from '../../ui/saving';
import { Fact, Facts } from '../../ui/Sheet';
import { Act, Small, Soft } from '../../ui/text';
import { tellChange } from '../changes';
import {
  useChangeTagMutation,
  useMergeTagMutation,
  useRemoveTagMutation,
  useSummaryQuery,
  useTellApartMutation,
} from '../contacts.api';
import { Flag } from '../Flag';
import { TagPicker } from '../TagPicker';
import { Colours } from './Colours';
import { useKinds, usePlaces } from './words';

interface TagMarginProps {
  readonly tag: TagLine;
  readonly all: TagsReply | undefined;
  readonly may: boolean;
  readonly onGone: () => void;
}

export function TagMargin({ tag, all, may, onGone }: TagMarginProps) {
  const others = (all?.alike ?? []).flatMap(({ one, other }) => {
    const id = one === tag.id ? other : other === tag.id ? one : undefined;
    return all?.tags.find((known) => known.id === id) ?? [];
  });
  return (
    <>
      {tag.kind === 'automatic' ? <Automatic tag={tag} /> : <About tag={tag} may={may} />}
      {others.map((other) => (
        <Alike key={other.id} tag={tag} other={other} may={may} onGone={onGone} />
      ))}
      <WhereNamed tag={tag} />
      {may && tag.kind === 'office' && <Away tag={tag} all={all} onGone={onGone} />}
    </>
  );
}

function Automatic({ tag }: { readonly tag: TagLine }) {
  return (
    <MarginPart title={tag.name}>
      <p>{tag.purpose}.</p>
      <Soft>
        An automatic tag: nobody puts it on or takes it off, and it is always as things are. It can
        be asked for and written to like any other.
      </Soft>
    </MarginPart>
  );
}

interface Said {
  readonly name: string;
  readonly purpose: string;
  readonly colour: TagColour;
}

function About({ tag, may }: { readonly tag: TagLine; readonly may: boolean }) {
  const [change] = useChangeTagMutation();
  const draft = useDraft<Said>({
    value: { name: tag.name, purpose: tag.purpose, colour: tag.colour },
    version: tag.version,
    save: (said, version) => change({ id: tag.id, version, ...said }).unwrap(),
    read: ({ name, purpose, colour }: Said) => ({ name, purpose, colour }),
  });
  const put = async (said: Partial<Said>): Promise<void> => {
    draft.change((before) => ({ ...before, ...said }));
    await draft.flush();
  };
  const { name, purpose, colour } = draft.value;
  return (
    <MarginPart title={tag.name}>
      <SaveTrouble draft={draft} what="tag" />
      <Facts>
        <Fact name="name">
          <InPlace
            value={name}
            label="Name"
            disabled={!may}
            onSave={(text) => put({ name: text })}
          />
        </Fact>
        <Fact name="what for">
          <InPlace
            value={purpose}
            label="What it is for"
            empty={may ? 'say what it is for' : 'nothing said'}
            disabled={!may}
            maxLength={200}
            onSave={(text) => put({ purpose: text })}
          />
        </Fact>
      </Facts>
      {may && (
        <Colours label="Colour" value={colour} onChange={(next) => void put({ colour: next })} />
      )}
    </MarginPart>
  );
}

interface AlikeProps {
  readonly tag: TagLine;
  readonly other: TagLine;
  readonly may: boolean;
  readonly onGone: () => void;
}

/** Another tag that it may be: how many have both, and the two ways on. */
function Alike({ tag, other, may, onGone }: AlikeProps) {
  const [tellApart] = useTellApartMutation();
  const only = useSummaryQuery({ of: `tag.${tag.id}.without-${other.id}` });
  const pair = { one: tag.id, other: other.id };
  const alone = only.data?.total;
  return (
    <MarginPart title="Looks like another">
      <p>
        <Flag name={other.name} colour={other.colour} />
      </p>
      {alone !== undefined && (
        <Sum
          label={`Who has “${tag.name}” alone`}
          lines={[
            {
              label: `tagged “${tag.name}”`,
              value: tag.people ?? 0,
              to: peoplePath(`tag.${tag.id}`),
            },
            {
              label: 'with both',
              value: (tag.people ?? 0) - alone,
              to: peoplePath(`tag.${tag.id}.and-${other.id}`),
              kind: 'less',
            },
            {
              label: `only “${tag.name}”`,
              value: alone,
              to: peoplePath(`tag.${tag.id}.without-${other.id}`),
              kind: 'total',
            },
          ]}
        />
      )}
      {may && (
        <>
          <Merge tag={tag} into={other} onGone={onGone} />
          <Act
            onClick={() =>
              void command({
                run: () => tellApart({ ...pair, areTwo: true }).unwrap(),
                says: () => `“${tag.name}” and “${other.name}” are two.`,
                undo: () => tellApart({ ...pair, areTwo: false }).unwrap(),
              })
            }
          >
            They are not the same
          </Act>
        </>
      )}
    </MarginPart>
  );
}

function Merge({
  tag,
  into,
  onGone,
}: {
  readonly tag: TagLine;
  readonly into: Pick<TagLine, 'id' | 'name'>;
  readonly onGone: () => void;
}) {
  const [merge, merging] = useMergeTagMutation();
  const go = async (): Promise<void> => {
    const change = await command({ run: () => merge({ id: tag.id, into: into.id }).unwrap() });
    if (!change) return;
    tellChange(change.id);
    onGone();
  };
  return (
    <>
      <Group my={8}>
        <Button size="xs" loading={merging.isLoading} onClick={() => void go()}>
          Merge into “{into.name}”
        </Button>
      </Group>
      <p>
        <Small>
          {people(tag.people ?? 0)} will have “{into.name}”, and so will what names this tag. Can be
          taken back for thirty days.
        </Small>
      </p>
    </>
  );
}

function WhereNamed({ tag: { uses } }: { readonly tag: TagLine }) {
  return (
    <MarginPart title="Where it is used">
      {uses.length === 0 && <Soft>In no segment, view or campaign that is still to go out.</Soft>}
      {useKinds.map((kind) => {
        const own = uses.filter((use) => use.kind === kind);
        const { one, many, path } = usePlaces[kind];
        return (
          own.length > 0 && (
            <p key={kind}>
              <Soft>{own.length === 1 ? one : many}: </Soft>
              {own.map(({ id, name, waits }, at) => (
                <span key={id}>
                  {at > 0 && ', '}
                  <Link to={path(id)}>{name}</Link>
                  {waits && <Soft> (waits to go out)</Soft>}
                </span>
              ))}
            </p>
          )
        );
      })}
    </MarginPart>
  );
}

/** Into any other tag, or away altogether. */
function Away({
  tag,
  all,
  onGone,
}: {
  readonly tag: TagLine;
  readonly all: TagsReply | undefined;
  readonly onGone: () => void;
}) {
  const [chosen, setChosen] = useState<number>();
  const into = all?.tags.find(({ id }) => id === chosen);
  const [isAsked, setAsked] = useState(false);
  return (
    <MarginPart title="No longer">
      <Group gap="md">
        <TagPicker label="Merge into …" leaveOut={[tag.id]} onPick={setChosen} isFixed />
        <Act onClick={() => setAsked(true)}>Delete it …</Act>
      </Group>
      {into && (
        <Modal opened title={`Merge “${tag.name}”`} onClose={() => setChosen(undefined)}>
          <Merge tag={tag} into={into} onGone={onGone} />
        </Modal>
      )}
      {isAsked && <Removal tag={tag} onClose={() => setAsked(false)} onGone={onGone} />}
    </MarginPart>
  );
}

function Removal({
  tag,
  onClose,
  onGone,
}: {
  readonly tag: TagLine;
  readonly onClose: () => void;
  readonly onGone: () => void;
}) {
  const [remove, removing] = useRemoveTagMutation();
  const go = async (): Promise<void> => {
    const change = await command({ run: () => remove(tag.id).unwrap() });
    onClose();
    if (!change) return;
    tellChange(change.id);
    onGone();
  };
  return (
    <Modal opened title={`Delete “${tag.name}”`} onClose={onClose}>
      <p>
        {tag.people ? `It is taken off ${people(tag.people)}.` : 'Nobody has it.'}{' '}
        {tag.uses.length > 0 &&
          'What names it goes on without it; a rule that asks for nothing else there finds nobody until somebody has looked at it:'}
      </p>
      {tag.uses.length > 0 && (
        <ul>
          {tag.uses.map(({ kind, id, name }) => (
            <li key={`${kind} ${id}`}>
              {name} <Soft>{usePlaces[kind].one}</Soft>
            </li>
          ))}
        </ul>
      )}
      <p>
        <Soft>All of it can be taken back for thirty days, from the activity log.</Soft>
      </p>
      <Group>
        <Button loading={removing.isLoading} onClick={() => void go()}>
          Delete it
        </Button>
        <Button variant="subtle" color="gray" onClick={onClose}>
          Not now
        </Button>
      </Group>
    </Modal>
  );
}
