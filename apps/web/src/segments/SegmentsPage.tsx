import { Button } from '@mantine/core';
import { emptyRule } from '@palabra/core/segments';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemOf } from '../app/api';
import { useVocabularyQuery } from '../contacts/contacts.api';
import { useMay, useOffice } from '../office/OfficeContext';
import { Page } from '../ui/Page';
import { Empty, Ghost, Note, Removed, Wrong } from '../ui/states';
import { ago } from '../ui/time';
import {
  useAddSegmentMutation,
  useRemoveSegmentMutation,
  useRestoreSegmentMutation,
  useSegmentsQuery,
} from './segments.api';

export function SegmentsPage() {
  const segments = useSegmentsQuery();
  const { data: vocabulary } = useVocabularyQuery();
  const { office } = useOffice();
  const may = useMay('write letters');
  const navigate = useNavigate();
  const [add, adding] = useAddSegmentMutation();
  const [remove] = useRemoveSegmentMutation();
  const [restore] = useRestoreSegmentMutation();
  const [removed, setRemoved] = useState<{ id: number; name: string }>();
  const [error, setError] = useState<string>();
  const house = vocabulary?.pools.find(({ kind }) => kind === 'house');
  const make = async (): Promise<void> => {
    try {
      const { id } = await add({
        name: 'New segment',
        pool: house?.id ?? 1,
        rule: emptyRule,
      }).unwrap();
      void navigate(`/segments/${id}`);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  const button = may && (
    <Button loading={adding.isLoading} onClick={() => void make()}>
      New segment
    </Button>
  );
  return (
    <Page
      title="Segments"
      sub="groups of contacts that keep themselves up to date"
      actions={button}
    >
      {error && <Note kind="wrong">{error}</Note>}
      <Removed
        what={removed}
        onUndo={() => removed && void restore(removed.id).then(() => setRemoved(undefined))}
      />
      {segments.isError && <Wrong error={segments.error} again={() => void segments.refetch()} />}
      {segments.isLoading && <Ghost lines={5} />}
      {segments.data?.length === 0 && (
        <Empty title="No segments yet">
          A segment is a group with a rule, such as everybody tagged “guest” who lives nearby. It is
          used again and again, and keeps itself up to date. {button}
        </Empty>
      )}
      <ul className="rows">
        {segments.data?.map((segment) => (
          <li key={segment.id}>
            <span className="what">
              <Link className="name" to={`/segments/${segment.id}`}>
                {segment.name}
              </Link>{' '}
              <span className="soft">{segment.description}</span>
            </span>
            <span className="end">
              {segment.pool !== 'house' && `${segment.pool}, `}changed{' '}
              {ago(office.timeZone, segment.updatedAt)}
            </span>
            {may && (
              <button
                type="button"
                className="act"
                aria-label={`Delete ${segment.name}`}
                onClick={() => void remove(segment.id).then(() => setRemoved(segment))}
              >
                Delete
              </button>
            )}
          </li>
        ))}
      </ul>
    </Page>
  );
}
