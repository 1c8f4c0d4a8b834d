// The gazetteer: what it holds, and another file in its place.
import { command } from '../ui/command';
import { FileWords } from '../ui/FilePlace';
import { count } from '../ui/numbers';
import { Ghost } from '../ui/states';
import { Soft } from '../ui/text';
import { useGazetteerAboutQuery, useLoadGazetteerMutation } from './contacts.api';

export function PlacesPart({ may }: { readonly may: boolean }) {
  const { data } = useGazetteerAboutQuery();
  const [load, state] = useLoadGazetteerMutation();
  if (!data) return <Ghost lines={2} />;
  const take = (file: File): Promise<unknown> =>
    command({
      run: () => load(file).unwrap(),
      says: ({ read, refused }) =>
        `${count(read)} places were read${refused > 0 ? `, ${count(refused)} lines could not be` : ''}.`,
    });
  const holds = data.towns + data.postcodes > 0;
  return (
    <Soft>
      {holds
        ? `${count(data.towns)} towns and ${count(data.postcodes)} postcodes say where people live.`
        : 'No places are known yet, so that no distance can be asked for.'}{' '}
      {data.withoutPosition > 0 &&
        `${count(data.withoutPosition)} people have none: their town and postcode are empty, or not among them. `}
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
      {may && 'It is a text file in the open format of GeoNames, of a country or of its postcodes.'}
    </Soft>
  );
}
