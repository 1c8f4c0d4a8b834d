// The first screen: what goes out next, what came back, what needs a hand.
import { Button } from '@mantine/core';
import { Link } from 'react-router';
import { StandbyPart } from '../delivery';
import { ToDo } from '../notes';
import { useMay, useOffice } from '../office';
import { Page } from '../ui/Page';
import { longDay } from '../ui/time';
import { CameBack } from './CameBack';
import { DeskMargin } from './DeskMargin';
import { GoesNext } from './GoesNext';
import { Since } from './Since';
import { Welcome } from './Welcome';

export function DeskPage() {
  const { office } = useOffice();
  const may = useMay('write letters');
  return (
    <Page
      title={longDay(office.timeZone, new Date())}
      actions={
        may && (
          <>
            <Button component={Link} to="/letters?new" variant="default">
              Write a letter
            </Button>
            <Button component={Link} to="/campaigns/new">
              New campaign
            </Button>
          </>
        )
      }
      margin={<DeskMargin />}
    >
      <Welcome />
      <StandbyPart />
      <ToDo />
      <GoesNext />
      <CameBack />
      <Since />
    </Page>
  );
}
