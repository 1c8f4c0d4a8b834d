// A letter: written in blocks, saved as it is made, shown as its readers will see it.
import { ActionIcon, Menu } from '@mantine/core';
import type { LetterReply } from '@palabra/contract/letters';
import {
  addableKinds,
  changeBlock,
  checkLetter,
  emptyBlock,
  insertBlock,
  lineText,
  moveBlock,
  PREVIEW,
  removeBlock,
  type Block,
  type BlockKind,
  type LetterContent,
} from '@palabra/core/letters';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import { Fragment, useEffect, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { useParams, useSearchParams } from 'react-router';
import { api, problemOf } from '../app/api';
import { Lost } from '../app/Lost';
import { useVocabularyQuery } from '../contacts/contacts.api';
import { PersonChooser } from '../contacts/PersonChooser';
import { useMay, useOffice } from '../office/OfficeContext';
import { useAutosave } from '../ui/autosave';
import { InPlace } from '../ui/InPlace';
import { count } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { SaveTrouble, SaveWord } from '../ui/SaveNote';
import { Ghost, Wrong } from '../ui/states';
import { clock } from '../ui/time';
import { Dragging, SortableItems } from '../ui/Sortable';
import { Words } from '../ui/Words';
import { BlockView } from './BlockView';
import { useHistory } from './history';
import { useLetterQuery, usePreviewQuery, useSaveLetterMutation } from './letters.api';
import { LineEditor } from './TextEditor';

export function LetterPage() {
  const id = Number(useParams()['id']);
  const letter = useLetterQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
  });
  const { data: vocabulary } = useVocabularyQuery();
  if (letter.isError && !letter.data)
    return problemOf(letter.error).status === 404 ? (
      <Lost />
    ) : (
      <Wrong error={letter.error} again={() => void letter.refetch()} />
    );
  if (!letter.data || letter.data.id !== id || letter.isFetching || !vocabulary) {
    return (
      <Page title="…" margin={<Ghost />}>
        <Ghost lines={8} />
      </Page>
    );
  }
  return <LetterEditor key={id} letter={letter.data} />;
}

type Show = 'write' | 'wide' | 'phone' | 'text';
const shows: readonly Show[] = ['write', 'wide', 'phone', 'text'];

interface Draft {
  readonly name: string;
  readonly content: LetterContent;
}

function LetterEditor({ letter }: { readonly letter: LetterReply }) {
  const may = useMay('write letters');
  const dispatch = useDispatch();
  const [search, setSearch] = useSearchParams();
  const show = shows.find((one) => one === search.get('show')) ?? 'write';
  const as = Number(search.get('as')) || undefined;
  const [save] = useSaveLetterMutation();
  const [name, setName] = useState(letter.name);
  const history = useHistory(letter.content);
  const { content } = history;
  const [chosen, setChosen] = useState<string | undefined>(search.get('at') ?? undefined);
  const auto = useAutosave<Draft>(letter.version, (draft, version) =>
    save({ id: letter.id, version, ...draft }).unwrap(),
  );
  /** What was last given to be saved, or came from the server. */
  const saved = useRef<Draft>({ name: letter.name, content: letter.content });
  const { change } = auto;
  useEffect(() => {
    if (saved.current.content === content && saved.current.name === name) return;
    saved.current = { name, content };
    change({ name, content });
  }, [name, content, change]);
  // Lists and tallies elsewhere learn of the changes when the editor is left.
  useEffect(() => () => void dispatch(api.util.invalidateTags(['Letters'])), [dispatch]);

  useEffect(() => {
    const at = search.get('at');
    if (at) document.getElementById(`block-${at}`)?.scrollIntoView({ block: 'center' });
    // Only the address that the page was opened with says where to go.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  const { undo, redo } = history;
  useEffect(() => {
    const keys = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      const isRedo = key === 'y' || (key === 'z' && event.shiftKey);
      if (key !== 'z' && key !== 'y') return;
      if (event.target instanceof HTMLInputElement) return;
      event.preventDefault();
      if (isRedo) redo();
      else undo();
    };
    window.addEventListener('keydown', keys, true);
    return () => window.removeEventListener('keydown', keys, true);
  }, [undo, redo]);

  const turn = (to: Show): void =>
    setSearch((before) => {
      const next = new URLSearchParams(before);
      if (to === 'write') next.delete('show');
      else next.set('show', to);
      return next;
    });

  return (
    <Page
      title={name}
      heading={
        <h1>
          <InPlace
            title
            label="Name of the letter"
            value={name}
            maxLength={120}
            disabled={!may}
            onSave={(text) => {
              if (text === '') throw new Error('A letter needs a name.');
              setName(text);
            }}
          />
        </h1>
      }
      sub={<SaveWord state={auto.state} />}
      actions={
        <>
          {may && show === 'write' && (
            <>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label="Undo"
                title="Ctrl+Z"
                disabled={!history.canUndo}
                onClick={undo}
              >
                <IconArrowBackUp size={20} />
              </ActionIcon>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label="Redo"
                title="Ctrl+Shift+Z"
                disabled={!history.canRedo}
                onClick={redo}
              >
                <IconArrowForwardUp size={20} />
              </ActionIcon>
            </>
          )}
          <Words label="Show" value={show} options={shows} onChange={turn} />
          {show !== 'write' && (
            <PersonChooser
              before="as"
              nobody="nobody in particular"
              value={as}
              onChange={(id) =>
                setSearch((before) => {
                  const next = new URLSearchParams(before);
                  if (id) next.set('as', String(id));
                  else next.delete('as');
                  return next;
                })
              }
            />
          )}
        </>
      }
      margin={
        <LetterMargin
          content={content}
          onGo={(block) => {
            turn('write');
            setChosen(block);
            requestAnimationFrame(() =>
              document.getElementById(`block-${block}`)?.scrollIntoView({ block: 'center' }),
            );
          }}
        />
      }
    >
      <SaveTrouble
        state={auto.state}
        what="letter"
        onAgain={() => void auto.flush()}
        onMine={auto.keepMine}
        onTheirs={(current) => {
          const theirs = current as Draft & { version: number };
          saved.current = theirs;
          setName(theirs.name);
          history.replace(theirs.content);
          auto.reset(theirs.version);
        }}
      />
      {show === 'write' ? (
        <>
          <Lines content={content} disabled={!may} onChange={history.change} />
          <div className="desk-ground">
            <div className="sheet">
              <Blocks
                content={content}
                chosen={chosen}
                disabled={!may}
                onChoose={setChosen}
                onChange={history.change}
              />
            </div>
          </div>
        </>
      ) : (
        <Shown id={letter.id} show={show} as={as} saved={auto.state.kind === 'saved'} />
      )}
    </Page>
  );
}

type Change = (content: LetterContent, place?: string) => void;

function Lines({
  content,
  disabled,
  onChange,
}: {
  readonly content: LetterContent;
  readonly disabled: boolean;
  readonly onChange: Change;
}) {
  const length = [...lineText(content.preview)].length;
  return (
    <div style={{ marginBottom: 12 }}>
      <div className="sheet-line" id="block-subject">
        <span className="label">subject</span>
        <LineEditor
          label="Subject"
          className="boxed-line"
          value={content.subject}
          disabled={disabled}
          tools="beside"
          onChange={(subject) => onChange({ ...content, subject }, 'subject')}
        />
      </div>
      <div className="sheet-line" id="block-preview">
        <span className="label">preview</span>
        <LineEditor
          label="Preview line"
          className="boxed-line"
          value={content.preview}
          disabled={disabled}
          tools="beside"
          onChange={(preview) => onChange({ ...content, preview }, 'preview')}
        />
        <span
          className={`small figure ${length >= PREVIEW.least && length <= PREVIEW.most ? 'soft' : 'caution'}`}
          title={`${PREVIEW.least} to ${PREVIEW.most} signs work`}
        >
          {length}
        </span>
      </div>
    </div>
  );
}

interface BlocksProps {
  readonly content: LetterContent;
  readonly chosen: string | undefined;
  readonly disabled: boolean;
  readonly onChoose: (id: string) => void;
  readonly onChange: Change;
}

function Blocks({ content, chosen, disabled, onChoose, onChange }: BlocksProps) {
  const put = (kind: BlockKind, at: number): void => {
    const block: Block = emptyBlock(kind, crypto.randomUUID());
    onChange(insertBlock(content, block, at));
    onChoose(block.id);
    setTimeout(
      () =>
        document
          .getElementById(`block-${block.id}`)
          ?.querySelector<HTMLElement>('.ProseMirror, input, [tabindex="0"]')
          ?.focus(),
      60,
    );
  };
  const drop = (from: string, to: string): void => {
    const place = (id: string): number => content.blocks.findIndex((block) => block.id === id);
    onChange(moveBlock(content, from, place(to) - place(from)));
    onChoose(from);
  };
  return (
    <Dragging onMove={drop}>
      <SortableItems ids={content.blocks.map(({ id }) => id)}>
        {content.blocks.map((block, at) => (
          <Fragment key={block.id}>
            {!disabled && (
              <PutHere last={block.kind === 'footer'} onPut={(kind) => put(kind, at)} />
            )}
            <BlockView
              block={block}
              chosen={chosen === block.id}
              disabled={disabled}
              first={at === 0}
              last={at >= content.blocks.length - 2}
              onChoose={() => onChoose(block.id)}
              onChange={(next) => onChange(changeBlock(content, next), block.id)}
              onMove={(by) => {
                onChange(moveBlock(content, block.id, by));
                setTimeout(
                  () =>
                    document
                      .getElementById(`block-${block.id}`)
                      ?.scrollIntoView({ block: 'nearest' }),
                  30,
                );
              }}
              onRemove={() => onChange(removeBlock(content, block.id))}
            />
          </Fragment>
        ))}
      </SortableItems>
    </Dragging>
  );
}

function PutHere({
  last,
  onPut,
}: {
  readonly last: boolean;
  readonly onPut: (kind: BlockKind) => void;
}) {
  return (
    <div className={`put-here ${last ? 'last' : ''}`}>
      <Menu>
        <Menu.Target>
          <button type="button">+ put something here</button>
        </Menu.Target>
        <Menu.Dropdown>
          {addableKinds.map((kind) => (
            <Menu.Item key={kind} onClick={() => onPut(kind)}>
              {kind}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}

function Shown({
  id,
  show,
  as,
  saved,
}: {
  readonly id: number;
  readonly show: Exclude<Show, 'write'>;
  readonly as: number | undefined;
  readonly saved: boolean;
}) {
  const [round, setRound] = useState(0);
  const [wasSaved, setWasSaved] = useState(saved);
  if (saved !== wasSaved) {
    setWasSaved(saved);
    if (saved) setRound(round + 1);
  }
  const preview = usePreviewQuery({ id, as, saved: round }, { skip: !saved });
  if (!saved) return <p className="soft">Saving, then showing …</p>;
  return (
    <div className="desk-ground">
      {preview.isError && <Wrong error={preview.error} again={() => void preview.refetch()} />}
      <p className="soft small" style={{ maxWidth: 640, margin: '0 auto 10px' }}>
        {preview.data ? (
          <>
            <b style={{ color: 'var(--ink)' }}>{preview.data.subject || 'no subject'}</b> ·{' '}
            {count(Math.ceil(preview.data.bytes / 1024))} kB
          </>
        ) : (
          '…'
        )}
      </p>
      {show === 'text' ? (
        <pre className="plain-letter">{preview.data?.text ?? '…'}</pre>
      ) : (
        <iframe
          className={`frame ${show}`}
          title={`The letter ${show === 'phone' ? 'on a phone' : 'on a wide screen'}`}
          sandbox="allow-popups"
          src={`/api/letters/${id}/preview.html?${as ? `as=${as}&` : ''}round=${round}`}
        />
      )}
    </div>
  );
}

function LetterMargin({
  content,
  onGo,
}: {
  readonly content: LetterContent;
  readonly onGo: (block: string) => void;
}) {
  const { office } = useOffice();
  const { data: vocabulary } = useVocabularyQuery();
  const checks = checkLetter({
    content,
    officeName: office.name,
    postalAddress: office.postalAddress,
    fields: vocabulary?.fields.map(({ key }) => key) ?? [],
  });
  const open = checks.filter(({ level }) => level !== 'passed');
  return (
    <>
      <MarginPart title="Checks" aside={`${checks.length - open.length} of ${checks.length}`}>
        <ul className="checks">
          {open.map((check, at) => {
            const block =
              check.place?.block ??
              (check.place?.at === 'subject' || check.place?.at === 'preview'
                ? check.place.at
                : undefined);
            return (
              <li key={at}>
                <span
                  className={`sign ${check.level === 'stop' ? 'wrong' : 'caution'}`}
                  title={check.level === 'stop' ? 'stops a send' : 'a caution'}
                >
                  {check.level === 'stop' ? '!' : '?'}
                </span>
                <span>
                  {check.text}{' '}
                  {block && (
                    <button type="button" className="act" onClick={() => onGo(block)}>
                      Go there
                    </button>
                  )}
                </span>
              </li>
            );
          })}
          {open.length === 0 && (
            <li>
              <span className="sign good">✓</span>
              <span className="soft">Everything that can be checked here is in order.</span>
            </li>
          )}
        </ul>
      </MarginPart>
      <MarginPart title="In the inbox">
        <div className="inbox">
          <div style={{ display: 'flex', justifyContent: 'space-between' }}>
            <b>{office.senderName}</b>
            <span className="soft">{clock(office.timeZone, new Date())}</span>
          </div>
          <div>{lineText(content.subject) || <span className="soft">no subject</span>}</div>
          <div className="soft">{lineText(content.preview) || 'the first words of the letter'}</div>
        </div>
      </MarginPart>
    </>
  );
}
