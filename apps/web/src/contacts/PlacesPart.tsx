// The gazetteer: what it holds, and another file in its place.
import { useState } from 'react';
import { command } from '../ui/command';
import { FileWords } from '../ui/FilePlace';
import { count, people, Progressing } from '../ui/numbers';
import { Ghost } from '../ui/states';
import { Soft } from '../ui/text';
import { useGazetteerAboutQuery, useLoadGazetteerMutation } from './contacts.api';

export function PlacesPart({ may }: { readonly may: boolean }) {
  const [isPlacing, setPlacing] = useState(false);
  const { data } = useGazetteerAboutQuery(undefined, { pollingInterval: isPlacing ? 1000 : 0 });
  const [load, state] = useLoadGazetteerMutation();
  const placing = data?.placing ?? null;
  if ((placing !== null) !== isPlacing) setPlacing(placing !== null);
  if (!data) return <Ghost lines={2} />;
  const take = (file: File): Promise<unknown> =>
    command({
      run: () => load(file).unwrap(),
      says: ({ read, refused }) =>
        `Places read: ${count(read)}${refused > 0 ? `; lines that could not be: ${count(refused)}` : ''}.`,
    });
  const holds = data.towns + data.postcodes > 0;
  return (
    <>
      <Soft>
        {holds
          ? `${count(data.towns)} ${data.towns === 1 ? 'town' : 'towns'} and ${count(data.postcodes)} ${data.postcodes === 1 ? 'postcode' : 'postcodes'} tell where people live.`
          : 'No places are known yet, so that no distance can be asked for.'}{' '}
        {data.withoutPosition > 0 &&
          !placing &&
          `Where ${people(data.withoutPosition)} ${data.withoutPosition === 1 ? 'lives' : 'live'} is not known: town and postcode are empty, or not among these. `}
        {may && (
          <FileWords
            label="A file of places"
            accept=".txt,text/plain"
            busy={state.isLoading}
            onFile={(file) => void take(file)}
          >
            {holds ? 'Load another file' : 'Load a file of places'}
          </FileWords>
        )}{' '}
        {may &&
          'It is a text file in the open format of GeoNames, of a country or of its postcodes.'}
      </Soft>
      {placing && (
        <>
          <Progressing
            label="Looking up where everybody lives"
            done={placing.done}
            of={placing.of}
          />
          <Soft role="status">
            Everybody is looked up in the new file. It goes on by itself; distances are right when
            it is done.
          </Soft>
        </>
      )}
    </>
  );
}
