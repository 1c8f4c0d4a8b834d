// The fields of people: which there are, in their order; one is described, changed and taken out in the margin.
import { Button } from '@mantine/core';
import type { FieldReply } from '@palabra/contract/contacts';
import { isBuiltIn, type Field } from '@palabra/core/contacts';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { useMay } from '../../office';
import { command } from '../../ui/command';
import { MarginPart, Page, Part } from '../../ui/Page';
import { Row, Rows } from '../../ui/Rows';
import { useSearch } from '../../ui/search';
import { Dragging, SortableItems, useDrag } from '../../ui/Sortable';
import { Ghost, Wrong } from '../../ui/states';
import { Act, Small, Soft } from '../../ui/text';
import { useFieldsQuery, useOrderFieldsMutation, useVocabularyQuery } from '../contacts.api';
import { NewField } from '../NewField';
import { FieldForm } from './FieldForm';
import { FieldRemoval } from './FieldRemoval';
import { FieldType } from './FieldType';
import classes from './fields.module.css';
import { kindWords } from './words';

export function FieldsPage() {
  const found = useFieldsQuery();
  const may = useMay('settings');
  const [search, setSearch] = useSearch();
  const chosen = found.data?.find(({ field }) => field.key === search.get('field'));
  const choose = (key: string): void => setSearch({ field: key }, { replace: true });
  const named = found.data?.filter(({ field }) => isBuiltIn(field.key)) ?? [];
  const own = found.data?.filter(({ field }) => !isBuiltIn(field.key)) ?? [];
  return (
    <Page
      title="Fields"
      sub="what is known of a person"
      actions={
        <Button component={Link} to="/settings" variant="default">
          To the settings
        </Button>
      }
      margin={
        chosen ? (
          <Chosen key={chosen.field.key} defined={chosen} may={may} onGone={() => choose('')} />
        ) : (
          <MarginPart title="A field">
            <Soft>
              Name, address, place and the like are there in every office. Choose a field of yours
              to describe it, to name its choices, or to make it one of another kind.
            </Soft>
          </MarginPart>
        )
      }
    >
      {found.isLoading && <Ghost lines={6} />}
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {found.data && (
        <>
          <Part title="Named by you">
            <Rows label="Named by you">
              {named.map(({ field }) => (
                <Row key={field.key}>
                  <Line field={field} chosen={chosen?.field.key} onChoose={choose} />
                </Row>
              ))}
            </Rows>
          </Part>
          <Part
            title="Fields of your own"
            aside={may && <NewField words="+ field" onMade={choose} />}
          >
            <OwnFields own={own} may={may} chosen={chosen?.field.key} onChoose={choose} />
          </Part>
        </>
      )}
    </Page>
  );
}

function Chosen({
  defined,
  may,
  onGone,
}: {
  readonly defined: FieldReply;
  readonly may: boolean;
  readonly onGone: () => void;
}) {
  const { field, version } = defined;
  if (!may)
    return (
      <MarginPart title={field.label}>
        <Soft>A coordinator changes fields. {field.help}</Soft>
      </MarginPart>
    );
  return (
    <>
      <FieldForm key={version} defined={defined} />
      {!isBuiltIn(field.key) && (
        <>
          <FieldType key={`type ${version}`} defined={defined} />
          <FieldRemoval field={field} onGone={onGone} />
        </>
      )}
    </>
  );
}

interface OwnFieldsProps {
  readonly own: readonly FieldReply[];
  readonly may: boolean;
  readonly chosen: string | undefined;
  readonly onChoose: (key: string) => void;
}

function OwnFields({ own, may, chosen, onChoose }: OwnFieldsProps) {
  const [order] = useOrderFieldsMutation();
  const keys = own.map(({ field }) => field.key);
  const move = (from: string, to: string): void => {
    const rest = keys.filter((key) => key !== from);
    const at = keys.indexOf(to);
    const next = [...rest.slice(0, at), from, ...rest.slice(at)];
    void command({ run: () => order(next).unwrap() });
  };
  const press = (event: KeyboardEvent, key: string): void => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    const to = keys[keys.indexOf(key) + (event.key === 'ArrowUp' ? -1 : 1)];
    if (to !== undefined && may) move(key, to);
  };
  if (own.length === 0)
    return (
      <p>
        <Soft>
          None yet. What an office knows of its people beside names and places goes here: when a
          membership ends, which workshop they came to, what they gave.
        </Soft>
      </p>
    );
  return (
    <Dragging onMove={move}>
      <SortableItems ids={keys}>
        <Rows label="Fields of your own" ordered>
          {own.map(({ field }) => (
            <Row key={field.key} end={<Small>{field.group}</Small>}>
              <Dragged
                field={field}
                may={may}
                chosen={chosen}
                onChoose={onChoose}
                onKey={(event) => press(event, field.key)}
              />
            </Row>
          ))}
        </Rows>
      </SortableItems>
    </Dragging>
  );
}

interface LineProps {
  readonly field: Field;
  readonly chosen: string | undefined;
  readonly onChoose: (key: string) => void;
  readonly onKey?: (event: KeyboardEvent) => void;
}

function Dragged({ may, ...line }: LineProps & { readonly may: boolean }) {
  const { hold, style, handle } = useDrag(line.field.key, !may);
  return (
    <span ref={hold} style={style} className={classes.field}>
      {handle}
      <Line {...line} />
    </span>
  );
}

function Line({ field, chosen, onChoose, onKey }: LineProps) {
  const { data } = useVocabularyQuery();
  return (
    <span className={classes.name}>
      <span className={classes.label}>
        <Act
          aria-pressed={field.key === chosen}
          aria-description={onKey && 'Alt and an arrow moves it'}
          onClick={() => onChoose(field.key)}
          onKeyDown={onKey}
        >
          {field.label}
        </Act>
      </span>{' '}
      <Soft>
        {kindWords(field, data?.fields ?? [])}
        {field.isRequired && ', required'}
      </Soft>{' '}
      <Small>{field.help}</Small>
    </span>
  );
}
