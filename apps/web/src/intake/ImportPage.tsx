// One import: look at it, start, watch, and see what it did.
import { useParams } from 'react-router';
import { Waiting } from '../ui/states';
import { ImportLook } from './ImportLook';
import { ImportResult } from './ImportResult';
import { useImportOneQuery } from './intake.api';

export function ImportPage() {
  const id = Number(useParams()['id']);
  const found = useImportOneQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
  });
  const data = found.data?.id === id ? found.data : undefined;
  if (!data) return <Waiting error={found.error} again={() => void found.refetch()} />;
  // A new reading of the file is a new table of columns.
  return data.state === 'uploaded' ? (
    <ImportLook
      key={`${data.id} ${data.encoding} ${data.separator} ${data.headerAt} ${data.sheetAt}`}
      found={data}
    />
  ) : (
    <ImportResult key={data.id} found={data} />
  );
}
