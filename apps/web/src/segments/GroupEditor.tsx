import { ActionIcon } from '@mantine/core';
import { groupWords, isGroup, RULE_LIMITS, type Group } from '@palabra/core/segments';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { DropPlace, SortableItems, useDrag } from '../ui/Sortable';
import { Act, Small, Soft } from '../ui/text';
import { Words } from '../ui/Words';
import { AskFinder } from './AskFinder';
import { ConditionEditor } from './ConditionEditor';
import { childPath, countConditions, ownCount, type EditorParts } from './editing';
import { PartMenu, partKeys } from './PartMenu';
import classes from './segments.module.css';
import { shortWords } from './words';

export interface Counted {
  /** How many each condition holds for by itself, by its path; undefined until they are counted. */
  readonly alone: Readonly<Record<string, number>> | undefined;
  /** Whether each part holds for the person who is asked about, by its path. */
  readonly held?: Readonly<Record<string, boolean>> | undefined;
  readonly lit: string | undefined;
}

interface GroupEditorProps extends Counted {
  readonly group: Group;
  readonly path: string;
  readonly level: number;
  readonly parts: EditorParts;
}

export function GroupEditor({ group, path, level, parts, ...counted }: GroupEditorProps) {
  const { disabled } = parts;
  const isOuter = path === '';
  return (
    <div
      className={`${classes.group} ${classes[group.of]}`}
      role="group"
      aria-label={`${group.of} of`}
      data-off={group.off}
      data-lit={counted.lit === path && !isOuter ? true : undefined}
    >
      <GroupHead group={group} path={path} parts={parts} />
      {group.folded && !isOuter ? null : <Items {...{ group, path, level, parts, ...counted }} />}
      {!disabled && !(group.folded && !isOuter) && (
        <Adds group={group} path={path} level={level} parts={parts} />
      )}
    </div>
  );
}

function GroupHead({ group, path, parts }: Pick<GroupEditorProps, 'group' | 'path' | 'parts'>) {
  const { disabled, act, context } = parts;
  const isOuter = path === '';
  const { hold, style, handle } = useDrag(isOuter ? 'outermost' : path, disabled || isOuter);
  return (
    <div
      className={classes.head}
      ref={hold}
      style={style}
      data-path={isOuter ? undefined : path}
      onKeyDownCapture={isOuter ? undefined : partKeys(path, parts)}
      onMouseEnter={() => parts.onHover(path)}
      onMouseLeave={() => parts.onHover(undefined)}
    >
      {!isOuter && handle}
      {!isOuter && (
        <ActionIcon
          aria-label={group.folded ? 'Show this group' : 'Fold this group'}
          aria-expanded={!group.folded}
          onClick={() => act({ do: 'fold', path })}
        >
          {group.folded ? <IconChevronRight size={15} /> : <IconChevronDown size={15} />}
        </ActionIcon>
      )}
      <Words
        label="How the conditions count"
        value={group.of}
        disabled={disabled}
        options={groupWords.map((value) => ({ value, label: `${value} of` }))}
        onChange={(of) => act({ do: 'put', path, node: { ...group, of } })}
      />
      {group.folded && !isOuter && (
        <Soft>
          {countConditions(group)} folded: {shortWords(group, context)}
        </Soft>
      )}
      <span className={classes.end}>
        {group.off && <Small>not asked for now</Small>}
        {!isOuter && !disabled && <PartMenu node={group} path={path} parts={parts} />}
      </span>
    </div>
  );
}

function Items({ group, path, level, parts, alone, held, lit }: GroupEditorProps) {
  return (
    <SortableItems ids={group.items.map((_, index) => childPath(path, index))}>
      <DropPlace id={`in:${path}`}>
        {group.items.length === 0 && (
          <Small>
            {level > 1
              ? 'No condition yet: this group asks nothing, and the rule is unfinished.'
              : 'No condition yet: nobody.'}
          </Small>
        )}
        {group.items.map((item, index) => {
          const place = childPath(path, index);
          return isGroup(item) ? (
            <GroupEditor
              key={index}
              group={item}
              path={place}
              level={level + 1}
              {...{ parts, alone, held, lit }}
            />
          ) : (
            <ConditionEditor
              key={index}
              condition={item}
              path={place}
              parts={parts}
              own={ownCount(alone, place)}
              holds={held?.[place]}
              isLit={lit === place}
            />
          );
        })}
      </DropPlace>
    </SortableItems>
  );
}

function Adds({ group, path, level, parts }: Omit<GroupEditorProps, keyof Counted>) {
  const { context, act, isFull } = parts;
  if (isFull)
    return <Small>{RULE_LIMITS.conditions} conditions are the most that a rule can have.</Small>;
  return (
    <div className={classes.adds}>
      <AskFinder
        words="+ condition"
        name="+ condition"
        context={context}
        onBegin={(node) => act({ do: 'add', path, node })}
      />
      {level < RULE_LIMITS.depth && (
        <Act onClick={() => act({ do: 'add', path, node: { of: 'any', items: [] } })}>+ group</Act>
      )}
      {level === 1 && group.items.length === 0 && (
        <Act onClick={() => act({ do: 'add', path, node: { kind: 'everybody' } })}>
          everybody in the pool
        </Act>
      )}
    </div>
  );
}
