// Who is listed in a fixed segment: people put in one by one, from a live segment, or by their addresses in a file.
import { Button, Group, Modal, Stack, Textarea } from '@mantine/core';
import type { AddressesReply } from '@palabra/contract/segments';
import { useState } from 'react';
import { Link } from 'react-router';
import { PeopleTable, PersonChooser, usePeopleQuery, useSummaryQuery } from '../contacts';
import { command } from '../ui/command';
import { FileWords } from '../ui/FilePlace';
import { Finder } from '../ui/Finder';
import { count, Num, people as peopleWords, peoplePath } from '../ui/numbers';
import { Part } from '../ui/Page';
import { Empty, Ghost, Note } from '../ui/states';
import { Act, Soft } from '../ui/text';
import {
  usePutAddressesMutation,
  usePutMembersMutation,
  useSegmentsQuery,
  useTakeMembersMutation,
  useUndoMembersMutation,
} from './segments.api';
import type { SegmentModel } from './useSegment';

const SHOWN = 50;

export function FixedPart({ model: { id = 0, start } }: { readonly model: SegmentModel }) {
  const of = `segment.${id}` as const;
  const { data } = usePeopleQuery({ of, limit: SHOWN });
  const { data: summary } = useSummaryQuery({ of });
  return (
    <>
      {start.mayChange && <Ways id={id} />}
      <Part
        title="People"
        aside={<Num value={summary?.total ?? 0} to={peoplePath(of)} label="people listed" />}
      >
        {!data && <Ghost lines={6} />}
        {data?.rows.length === 0 && (
          <Empty title="Nobody is listed yet">
            <p>
              Put people in here, or choose some in <Link to="/contacts">Contacts</Link> and put
              them into this segment there.
            </p>
          </Empty>
        )}
        {data && data.rows.length > 0 && (
          <PeopleTable label="People listed" rows={data.rows} list={`?of=${of}`} />
        )}
        {summary && summary.total > SHOWN && (
          <p>
            <Link to={peoplePath(of)}>All {count(summary.total)} as a list</Link>
          </p>
        )}
        {summary && summary.colleagues > 0 && (
          <p>
            <Soft>and {count(summary.colleagues)} of colleagues</Soft>
          </p>
        )}
      </Part>
    </>
  );
}

function Ways({ id }: { readonly id: number }) {
  const { data: segments = [] } = useSegmentsQuery();
  const [put] = usePutMembersMutation();
  const [take] = useTakeMembersMutation();
  const [undo] = useUndoMembersMutation();
  const [isAdding, setAdding] = useState(false);
  const add = (people: object): Promise<unknown> =>
    command({
      run: () => put({ id, people }).unwrap(),
      says: ({ changed }) => `${peopleWords(changed)} put in.`,
      undo: ({ at }) => undo({ id, at }).unwrap(),
    });
  const remove = (people: object): Promise<unknown> =>
    command({
      run: () => take({ id, people }).unwrap(),
      says: ({ changed }) => `${peopleWords(changed)} taken out.`,
      undo: ({ at }) => undo({ id, at }).unwrap(),
    });
  return (
    <Group gap="lg" my="sm">
      <PersonChooser
        label="Put somebody in"
        nobody="+ a person"
        value={undefined}
        onChange={(contact) => contact !== undefined && void add({ ids: [contact] })}
      />
      <Finder
        words="+ everybody of a segment"
        label="Find a segment"
        placeholder="find a segment"
        none="No other segment of that name."
        options={segments
          .filter((one) => one.id !== id)
          .map((one) => ({ key: String(one.id), text: one.name, note: one.kind }))}
        onPick={({ key }) => void add({ of: `segment.${key}` })}
      />
      <Act onClick={() => setAdding(true)}>+ by addresses or a file</Act>
      <PersonChooser
        label="Take somebody out"
        nobody="– a person"
        value={undefined}
        onChange={(contact) => contact !== undefined && void remove({ ids: [contact] })}
      />
      <Finder
        words="– everybody of a segment"
        label="Find a segment whose people are taken out"
        placeholder="find a segment"
        none="No other segment of that name."
        options={segments
          .filter((one) => one.id !== id)
          .map((one) => ({ key: String(one.id), text: one.name, note: one.kind }))}
        onPick={({ key }) => void remove({ of: `segment.${key}` })}
      />
      {isAdding && <Addresses id={id} onClose={() => setAdding(false)} />}
    </Group>
  );
}

function Addresses({ id, onClose }: { readonly id: number; readonly onClose: () => void }) {
  const [text, setText] = useState('');
  const [put, state] = usePutAddressesMutation();
  const [done, setDone] = useState<AddressesReply>();
  const go = async (given: string): Promise<void> => {
    const reply = await command({ run: () => put({ id, text: given }).unwrap() });
    if (reply) setDone(reply);
  };
  return (
    <Modal opened title="Put people in by their addresses" onClose={onClose}>
      <Stack gap="sm">
        <Textarea
          label="Addresses"
          description="Whatever stands around them is passed over: a column of a table will do."
          autosize
          minRows={5}
          maxRows={12}
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Group>
          <Button
            disabled={text.trim() === ''}
            loading={state.isLoading}
            onClick={() => void go(text)}
          >
            Put them in
          </Button>
          <FileWords
            label="A file with addresses"
            accept=".csv,.txt,.tsv,text/*"
            busy={state.isLoading}
            onFile={(file) => void file.text().then(go)}
          >
            or take a text file
          </FileWords>
        </Group>
        {done && (
          <Note kind={done.unknownCount > 0 ? 'caution' : 'good'}>
            {peopleWords(done.changed)} put in
            {done.found > done.changed && `; ${count(done.found - done.changed)} were in already`}.
            {done.unknownCount > 0 && (
              <>
                {' '}
                {count(done.unknownCount)} of the addresses {done.unknownCount === 1 ? 'is' : 'are'}{' '}
                nobody’s here: {done.unknown.join(', ')}
                {done.unknownCount > done.unknown.length && ' …'}. Import them first, then put them
                in.
              </>
            )}
          </Note>
        )}
      </Stack>
    </Modal>
  );
}
