import { Link } from 'react-router';
import { useCampaignsQuery } from '../campaigns';
import { MovedPart, useSummaryQuery } from '../contacts';
import { useReturnedInfiniteQuery } from '../delivery';
import { useImportsQuery } from '../intake';
import { Standstill, useOffice, useSeesEverybody, useStandstillsQuery } from '../office';
import { Opens, peoplePath, Sum } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Ghost } from '../ui/states';
import { Soft } from '../ui/text';
import classes from './desk.module.css';
import { fresh } from './fresh';
import { handsOf } from './hands';

export function DeskMargin() {
  return (
    <>
      <NeedsAHand />
      <Whom />
      <MovedPart />
      <MarginPart title="Answering">
        <Soft>
          <Opens to={peoplePath('since.90.responded')}>People who opened or clicked</Opens> in the
          last 90 days.
        </Soft>
      </MarginPart>
    </>
  );
}

function NeedsAHand() {
  const { office } = useOffice();
  const seesAll = useSeesEverybody();
  const campaigns = useCampaignsQuery();
  const imports = useImportsQuery();
  const standstills = useStandstillsQuery(undefined, { skip: !seesAll, ...fresh });
  const returned = useReturnedInfiniteQuery({ open: 'yes' }, { skip: !seesAll, ...fresh });
  const refused = useSummaryQuery(
    { of: `refused.${Math.max(1, office.unreadBounceLimit)}` },
    { skip: !seesAll || office.unreadBounceLimit === 0, refetchOnMountOrArgChange: 30 },
  );
  const hands = handsOf({
    office,
    campaigns: campaigns.data ?? [],
    imports: imports.data ?? [],
    returned: returned.data?.pages[0]?.open ?? 0,
    refused: refused.data?.total ?? 0,
  });
  const isKnown = campaigns.data !== undefined && imports.data !== undefined;
  return (
    <MarginPart title="Needs a hand">
      {standstills.data?.map((one) => (
        <Standstill key={`${one.work} ${one.thing}`} {...one} />
      ))}
      {!isKnown && <Ghost lines={2} />}
      {isKnown && hands.length === 0 && !standstills.data?.length && (
        <Soft>Nothing at the moment.</Soft>
      )}
      {hands.map(({ key, to, strong, rest }) => (
        <p key={key}>
          <Link className={classes.hand} to={to}>
            {strong}
          </Link>{' '}
          {rest}
        </p>
      ))}
    </MarginPart>
  );
}

function Whom() {
  const seesAll = useSeesEverybody();
  const { data } = useSummaryQuery({}, { refetchOnMountOrArgChange: 30 });
  const whose = seesAll ? 'House pool' : 'Your people';
  return (
    <MarginPart title={whose}>
      {data ? (
        <Sum
          label={whose}
          lines={[
            { label: 'people', value: data.total, to: '/contacts' },
            {
              label: 'no address',
              value: data.noAddress,
              to: '/contacts?standing=no+address',
              kind: 'less',
            },
            {
              label: 'do not mail',
              value: data.doNotMail,
              to: '/contacts?standing=do+not+mail',
              kind: 'less',
            },
            {
              label: 'no permission',
              value: data.noPermission,
              to: '/contacts?standing=no+permission',
              kind: 'less',
            },
            {
              label: 'may be mailed',
              value: data.mayBeMailed,
              to: '/contacts?standing=may+be+mailed',
              kind: 'total',
            },
          ]}
        />
      ) : (
        <Ghost lines={5} />
      )}
    </MarginPart>
  );
}
