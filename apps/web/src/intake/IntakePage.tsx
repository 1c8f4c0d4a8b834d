// The ways in: a file to bring, and what came in before.
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemOf } from '../app/api';
import { useMay, useOffice } from '../office/OfficeContext';
import { count, Num, peoplePath } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Empty, Ghost, Note, Wrong } from '../ui/states';
import { day } from '../ui/time';
import { useImportsQuery, useUploadMutation } from './intake.api';
import { importWords } from './words';

export function IntakePage() {
  const imports = useImportsQuery(undefined, { refetchOnMountOrArgChange: true });
  const { office } = useOffice();
  const may = useMay('change people');
  const navigate = useNavigate();
  const [upload, uploading] = useUploadMutation();
  const [error, setError] = useState<string>();
  const [over, setOver] = useState(false);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setError(undefined);
    if (file.size > 200 * 1024 * 1024) {
      setError('This file is larger than 200 MB. Split it in two.');
      return;
    }
    try {
      const { id } = await upload(file).unwrap();
      void navigate(`/intake/${id}`);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  return (
    <Page title="Intake" sub="how people come in">
      {may && (
        <label
          className={`drop ${over ? 'over' : ''}`}
          onDragOver={(event) => {
            event.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(event) => {
            event.preventDefault();
            setOver(false);
            void take(event.dataTransfer.files[0]);
          }}
        >
          <input
            type="file"
            className="hidden"
            accept=".csv,.txt,.tsv,text/csv,text/plain"
            aria-label="Choose a CSV file"
            onChange={(event) => {
              void take(event.currentTarget.files?.[0]);
              event.currentTarget.value = '';
            }}
          />
          {uploading.isLoading ? (
            'Reading the file …'
          ) : (
            <>
              <b>Choose a CSV file, or drop one here</b>
              <br />
              <span className="soft">
                Any separator, UTF-8 or Windows-1252. Nothing changes before you have looked at it.
              </span>
            </>
          )}
        </label>
      )}
      {error && (
        <div role="alert" style={{ marginTop: 12 }}>
          <Note kind="wrong">{error}</Note>
        </div>
      )}
      <h2 className="ruled-head">What came in</h2>
      {imports.isError && <Wrong error={imports.error} again={() => void imports.refetch()} />}
      {imports.isLoading && <Ghost lines={4} />}
      {imports.data?.length === 0 && (
        <Empty title="Nothing yet">
          Lists that were brought in stay listed here, with what each of them changed. Each can be
          taken back.
        </Empty>
      )}
      <ul className="rows">
        {imports.data?.map((one) => (
          <li key={one.id}>
            <span className="when">{day(office.timeZone, one.createdAt)}</span>
            <span className="what">
              <Link className="name" to={`/intake/${one.id}`}>
                {one.fileName}
              </Link>{' '}
              <span className="soft">by {one.by}</span>
            </span>
            <span className="end">
              {one.state === 'uploaded' ? (
                `${count(one.rows)} rows, not begun`
              ) : (
                <>
                  <Num value={one.newCount} to={peoplePath(`import.${one.id}.new`)} /> new,{' '}
                  <Num value={one.changedCount} to={peoplePath(`import.${one.id}.changed`)} />{' '}
                  changed, <Num value={one.refusedCount} to={`/intake/${one.id}`} /> refused
                  {one.state === 'done' ? '' : `, ${importWords(one)}`}
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
    </Page>
  );
}
