// How a file is read, to be changed when it looks wrong.
import type { ImportReply } from '@palabra/contract/intake';
import { encodingNames, encodings, separators, separatorWords } from '@palabra/core/intake';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Pick } from '../ui/Pick';
import { Fact, Facts } from '../ui/Sheet';
import { Act, Soft } from '../ui/text';
import { useReadAgainMutation } from './intake.api';

const NO_HEADER = -1;

export function Reading({
  found,
  save,
}: {
  readonly found: ImportReply;
  /** Keeps what was said of the file before it is read anew. */
  readonly save: () => Promise<unknown>;
}) {
  const [readAgain] = useReadAgainMutation();
  const read = (change: Partial<Parameters<typeof readAgain>[0]>): void =>
    void command({
      run: async () => {
        await save();
        await readAgain({
          id: found.id,
          encoding: found.encoding,
          separator: found.separator,
          ...change,
        }).unwrap();
      },
    });
  return (
    <>
      <MarginPart title="How the file is read">
        <Facts>
          {found.sheets.length > 1 && (
            <Fact name="sheet">
              <Pick
                label="Sheet"
                value={found.sheetAt}
                options={found.sheets.map((label, value) => ({ value, label }))}
                onChange={(sheetAt) => sheetAt !== null && read({ sheetAt })}
              />
            </Fact>
          )}
          {found.kind === 'text' && (
            <>
              <Fact name="encoding">
                <Pick
                  label="Encoding"
                  value={found.encoding}
                  options={encodings.map((value) => ({ value, label: encodingNames[value] }))}
                  onChange={(encoding) => encoding && read({ encoding })}
                />
              </Fact>
              <Fact name="separator">
                <Pick
                  label="Separator"
                  value={found.separator}
                  options={separators.map((value) => ({ value, label: separatorWords[value] }))}
                  onChange={(separator) => separator && read({ separator })}
                />
              </Fact>
            </>
          )}
          <Fact name="header">
            <Pick
              label="Header"
              value={found.headerAt ?? NO_HEADER}
              options={[
                { value: NO_HEADER, label: 'none: the first row is a person' },
                ...found.beginning.map((cells, value) => ({
                  value,
                  label: `row ${value + 1}: ${cells
                    .filter((cell) => cell.trim() !== '')
                    .join(', ')
                    .slice(0, 40)}`,
                })),
              ]}
              onChange={(row) => read({ headerAt: row === NO_HEADER ? null : row })}
            />
          </Fact>
        </Facts>
        {found.headerAt !== null && found.headerAt > 0 && (
          <p>
            <Soft>
              {found.headerAt === 1 ? 'The row' : `The ${count(found.headerAt)} rows`} above the
              header {found.headerAt === 1 ? 'is' : 'are'} left out.
            </Soft>
          </p>
        )}
      </MarginPart>
      {found.guesses.length > 1 && (
        <MarginPart title="If names look wrong">
          {found.guesses.map(({ encoding, words }) => (
            <p key={encoding}>
              <Act aria-pressed={encoding === found.encoding} onClick={() => read({ encoding })}>
                {encodingNames[encoding]}
              </Act>
              <br />
              <Soft>{words.join(', ')}</Soft>
            </p>
          ))}
        </MarginPart>
      )}
    </>
  );
}
