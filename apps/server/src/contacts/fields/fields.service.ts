// The fields of the office: made, described, put in order, changed to another type, taken away.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  FieldFitReply,
  FieldKindRequest,
  FieldRequest,
  FieldTypeRequest,
  FieldUsesReply,
  OwnFieldRequest,
} from '@palabra/contract/contacts';
import {
  FIELD_LIMITS,
  fieldProblem,
  formatFieldValue,
  oneLine,
  ownId,
  refitted,
  searchKey,
  typesFor,
  writtenChoices,
  type ChangeSetId,
  type ContactId,
  type Choice,
  type Field,
  type FieldValue,
  type WrittenChoice,
} from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { Database, type Db } from '../../platform/database.js';
import { conflict, notFound } from '../../platform/refusals.js';
import { Foreground } from '../../platform/stride.js';
import { CLOCK } from '../../platform/time.js';
import { Upkeep } from '../../platform/upkeep.js';
import { openChangeSet } from '../changes/changes.store.js';
import type { Retyped } from '../changes/changes.table.js';
import { Things } from '../changes/things.js';
import { refuse } from '../contacts.refusals.js';
import * as store from './fields.store.js';
import { FieldUses } from './uses.js';

/** As long as a deletion can be taken back. */
const BIN_DAYS = 30;
const DAY = 86_400_000;
const PURGED_AT_ONCE = 500;
const PEOPLE_AT_ONCE = 5000;
/** So many values that do not fit are shown, and so many told apart. */
const EXAMPLES = { shown: 20, known: 10_000 };

@Injectable()
export class FieldsService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly things: Things,
    private readonly uses: FieldUses,
    private readonly upkeep: Upkeep,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.things.register('field', async (tx, id, at) => {
      const name = await store.setFieldDeleted(tx, id, at);
      const taken =
        at === null && name === undefined ? await store.deletedField(tx, id) : undefined;
      if (taken !== undefined) throw refuse('field-name-taken', taken);
      return name;
    });
    this.uses.register('field', async (key) =>
      (await store.definedFields(this.database.db)).flatMap(({ id, field }) =>
        field.since?.day === key ? [{ id, name: field.label }] : [],
      ),
    );
    this.upkeep.register(() =>
      store.purgeField(
        this.database.db,
        new Date(this.clock.now().getTime() - BIN_DAYS * DAY),
        PURGED_AT_ONCE,
      ),
    );
  }

  defined(): Promise<store.Defined[]> {
    return store.definedFields(this.database.db);
  }

  async add(request: OwnFieldRequest): Promise<Field> {
    const { db } = this.database;
    const field: Field = {
      key: 'new',
      label: oneLine(request.label),
      ...kindOf(request, []),
    };
    this.check(field, await store.allFields(db));
    const { key: _, ...rest } = field;
    const added = await store.addOwnField(db, rest, this.clock.now());
    if (!added) {
      if ((await store.definedFields(db)).length >= FIELD_LIMITS.fields)
        throw refuse('many-fields', FIELD_LIMITS.fields);
      throw refuse('field-exists', field.label);
    }
    return added;
  }

  async change(key: string, request: FieldRequest): Promise<store.Defined> {
    return this.database.transaction(async (tx) => {
      const { id, field } = await this.seen(tx, key, request.version);
      const { type } = field;
      const isOwn = ownId(key) !== undefined;
      const next: Field = {
        key,
        label: isOwn ? oneLine(request.label) : field.label,
        ...said({ formerChoices: field.formerChoices }),
        ...kindOf({ ...request, type }, field.choices ?? []),
        ...(request.isRequired ? { isRequired: true } : {}),
        ...(request.help.trim() === '' ? {} : { help: oneLine(request.help) }),
        ...(request.group.trim() === '' ? {} : { group: oneLine(request.group) }),
        ...(request.standard.trim() === '' ? {} : { standard: request.standard.trim() }),
      };
      const others = (await store.allFields(tx)).filter((one) => one.key !== key);
      this.check(next, others);
      await store.changeField(tx, id, next);
      return { id, field: next, version: request.version + 1 };
    });
  }

  async order(keys: readonly string[]): Promise<void> {
    const ids = keys.map(ownId);
    if (ids.includes(undefined)) throw refuse('no-such-field');
    await store.orderFields(
      this.database.db,
      ids.flatMap((id) => id ?? []),
    );
  }

  async usesOf(key: string, viewer: Viewer): Promise<FieldUsesReply> {
    await this.known(key);
    return {
      filled: await store.countFilled(this.database.db, key),
      uses: await this.uses.of(key, viewer),
    };
  }

  async remove(key: string, viewer: Viewer): Promise<void> {
    const id = ownId(key);
    if (id === undefined) throw notFound('field');
    await this.things.remove('field', id, viewer);
  }

  async restore(key: string): Promise<void> {
    const id = ownId(key);
    if (id === undefined) throw notFound('field');
    await this.things.restore('field', id);
  }

  /** What would become of the values of a field if it were of another type. */
  async fit(key: string, request: FieldKindRequest): Promise<FieldFitReply> {
    const { field } = await this.known(key);
    const next = await this.asAnother(field, request);
    let [fits, doesNotFit] = [0, 0];
    const examples = new Map<string, number>();
    await this.eachValue(key, (value, count) => {
      if (refitted(field, next, value) !== undefined) fits += count;
      else {
        doesNotFit += count;
        const text = formatFieldValue(field, value).slice(0, 200);
        const known = examples.get(text);
        if (known !== undefined || examples.size < EXAMPLES.known)
          examples.set(text, (known ?? 0) + count);
      }
    });
    return {
      fits,
      doesNotFit,
      examples: [...examples]
        .map(([value, count]) => ({ value, count }))
        .sort((one, other) => other.count - one.count)
        .slice(0, EXAMPLES.shown),
      choices: next.choices?.map(({ label }) => label) ?? [],
    };
  }

  /** Changes the type, and orders that what is kept follow it. What does not fit is kept with the change, and comes back with it. */
  async changeType(key: string, request: FieldTypeRequest, viewer: Viewer): Promise<ChangeSetId> {
    const { field: before } = await this.known(key);
    const next = await this.asAnother(before, request);
    return this.database.transaction(async (tx) => {
      const { id, field } = await this.seen(tx, key, request.version);
      if (!typesFor(field.type).includes(next.type)) throw refuse('no-such-type');
      const others = (await store.allFields(tx)).filter((one) => one.key !== key);
      this.check(next, others);
      await store.changeField(tx, id, next);
      return openChangeSet(tx, {
        kind: 'by hand',
        userId: viewer.userId,
        at: this.clock.now(),
        what: `made ${field.label} ${article(next.type)}`,
        todo: { retyped: { from: field, to: next } },
      });
    });
  }

  /** A change of type is taken back, or made again: the field is of the other type. What is kept follows. */
  async flip(tx: Db, { from, to }: Retyped): Promise<void> {
    const now = await store.lockField(tx, to.key);
    if (!now) throw notFound('field');
    const { label, help, group, isRequired } = now.field;
    const other = now.field.type === to.type ? from : to;
    await store.changeField(tx, now.id, { ...other, label, ...said({ help, group, isRequired }) });
  }

  /** The field as it would be: where nothing is said of its choices, they are what occurs. */
  private async asAnother(field: Field, request: FieldKindRequest): Promise<Field> {
    const { type } = request;
    const { key, label, isRequired, help, group } = field;
    const rest = { key, label, ...said({ isRequired, help, group }) };
    const isChoice = type === 'choice' || type === 'choices';
    const written = request.choices ?? (isChoice ? await this.occurring(field, type) : undefined);
    const before = field.choices ?? field.formerChoices ?? [];
    return {
      ...rest,
      ...(isChoice || before.length === 0 ? {} : { formerChoices: before }),
      ...kindOf({ ...request, choices: written }, before),
    };
  }

  /** What occurs in a field, as choices, the most frequent kept where there are too many. */
  private async occurring(field: Field, type: Field['type']): Promise<WrittenChoice[]> {
    if (field.choices)
      return field.choices
        .filter(({ isGone }) => !isGone)
        .map(({ key, label }) => ({ key, label }));
    const found = new Map<string, { label: string; often: number; count: number }>();
    await this.eachValue(field.key, (value, count) => {
      const text = formatFieldValue(field, value);
      for (const part of type === 'choices' ? text.split(/[,;|]/) : [text]) {
        const label = oneLine(part);
        const said = searchKey(label);
        if (said === '' || label.length > 60 || /[,;|]/.test(label)) continue;
        const known = found.get(said);
        // So many are enough to find the frequent ones.
        if (!known && found.size >= EXAMPLES.known) continue;
        // It is called as it is written most often.
        const isBetter =
          !known || count > known.often || (count === known.often && label < known.label);
        found.set(said, {
          ...(isBetter ? { label, often: count } : known),
          count: (known?.count ?? 0) + count,
        });
      }
    });
    return [...found.values()]
      .sort((one, other) => other.count - one.count)
      .slice(0, FIELD_LIMITS.choices)
      .map(({ label }) => ({ label }));
  }

  private async eachValue(
    key: string,
    look: (value: FieldValue, count: number) => void,
  ): Promise<void> {
    for (let after = idOf<ContactId>(0); ;) {
      const { last, values } = await this.foreground.aside(() =>
        store.keptValues(this.database.db, key, after, PEOPLE_AT_ONCE),
      );
      if (last === null) return;
      for (const { value, count } of values) look(value, count);
      after = last;
    }
  }

  private check(field: Field, others: readonly Field[]): void {
    const problem = fieldProblem(field, others);
    if (problem) throw refuse('bad-field', problem.why).about(problem.at);
  }

  private async known(key: string): Promise<store.Defined> {
    const found = (await this.defined()).find(({ field }) => field.key === key);
    if (!found) throw notFound('field');
    return found;
  }

  private async seen(tx: Db, key: string, version: number): Promise<store.Defined> {
    const found = await store.lockField(tx, key);
    if (!found) throw notFound('field');
    if (found.version !== version) throw conflict('field', found);
    return found;
  }
}

/** Without what is not said. */
const said = <T extends Partial<Field>>(parts: {
  readonly [K in keyof T]: T[K] | undefined;
}): Partial<T> =>
  Object.fromEntries(
    Object.entries(parts).filter(([, value]) => value !== undefined),
  ) as Partial<T>;

const article = (type: Field['type']): string =>
  (
    ({
      text: 'a text',
      'long text': 'a long text',
      number: 'a number',
      money: 'an amount of money',
      date: 'a date',
      'yes or no': 'a yes or no',
      choice: 'one choice',
      choices: 'several choices',
      link: 'a link',
    }) as Partial<Record<Field['type'], string>>
  )[type] ?? type;

/** What a field is made of, as it is written. */
function kindOf(
  { type, choices, currency, since }: FieldKindRequest,
  before: readonly Choice[],
): Pick<Field, 'type' | 'choices' | 'currency' | 'since'> {
  if (type === 'money') return { type, ...(currency === undefined ? {} : { currency }) };
  if (type === 'computed')
    return { type, ...(since ? { since: { day: since.day, unit: since.unit } } : {}) };
  if (type !== 'choice' && type !== 'choices') return { type };
  const written = writtenChoices(before, choices ?? before.filter(({ isGone }) => !isGone));
  if (!written.ok) throw refuse('bad-field', written.error).about('choices');
  return { type, choices: written.value };
}
