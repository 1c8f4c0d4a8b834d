// Mail that came back: what was read by itself, and what waits to be sorted by hand.
import { useSearchParams } from 'react-router';
import { useSeesEverybody } from '../office';
import { count } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Rows } from '../ui/Rows';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { Words } from '../ui/Words';
import { useReturnedInfiniteQuery } from './delivery.api';
import { ReturnedMail } from './ReturnedMail';

const useReturned = (isOpen: boolean, skip = false) =>
  useReturnedInfiniteQuery(
    { open: isOpen ? 'yes' : 'no' },
    {
      skip,
      refetchOnMountOrArgChange: true,
      pollingInterval: 10_000,
      skipPollingIfUnfocused: true,
    },
  );

export function ReturnedPage() {
  const [search, setSearch] = useSearchParams();
  const isOpen = search.get('all') === null;
  const seesAll = useSeesEverybody();
  const found = useReturned(isOpen, !seesAll);
  const open = found.data?.pages[0]?.open;
  return (
    <Page
      title="Mail that came back"
      sub={
        open === undefined
          ? undefined
          : open === 0
            ? 'everything is seen to'
            : `${count(open)} to see to`
      }
      margin={<HowItIsRead />}
    >
      {!seesAll ? (
        <Empty title="For the coordinator">
          Returned mail is sorted by a coordinator. What it says about your own people stands on
          their pages.
        </Empty>
      ) : (
        <>
          <Words
            label="Show"
            value={isOpen ? 'to see to' : 'everything'}
            options={['to see to', 'everything']}
            onChange={(which) => setSearch(which === 'everything' ? { all: '' } : {})}
          />
          <Found isOpen={isOpen} />
        </>
      )}
    </Page>
  );
}

function Found({ isOpen }: { readonly isOpen: boolean }) {
  const found = useReturned(isOpen);
  const mails = found.data?.pages.flatMap((page) => page.mails);
  return (
    <>
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {!mails && found.isLoading && <Ghost lines={6} />}
      {mails?.length === 0 && (
        <Empty title={isOpen ? 'Nothing to see to' : 'Nothing has come back yet'}>
          {isOpen
            ? 'What comes back and can’t be matched with certainty waits in this place.'
            : 'Notices of dead addresses, complaints and replies are kept here as they come in.'}
        </Empty>
      )}
      <Rows>
        {mails?.map((mail) => (
          <ReturnedMail key={mail.id} mail={mail} />
        ))}
      </Rows>
      {found.hasNextPage && (
        <Act loading={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
          Earlier
        </Act>
      )}
    </>
  );
}

function HowItIsRead() {
  return (
    <MarginPart title="How it is read">
      <p>
        <Soft>
          Notices, complaints and replies are matched with their letter by the address they were
          sent to, by their headers, or by the letter they quote. What names only an address, or
          can’t be read, waits here for a person: nobody is put on do not mail on a guess.
        </Soft>
      </p>
      <p>
        <Soft>
          Out-of-office answers are kept apart from replies and count nowhere as a response. A
          question whether a human wrote counts as nothing; it waits here in case you want to answer
          it.
        </Soft>
      </p>
    </MarginPart>
  );
}
