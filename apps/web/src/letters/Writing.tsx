// The letter on its desk: subject and preview line, then block under block.
import {
  changeBlock,
  insertBlock,
  emptyBlock,
  lineText,
  moveBlock,
  PREVIEW,
  removeBlock,
  addableKinds,
  type Block,
  type BlockKind,
  type LetterContent,
} from '@palabra/core/letters';
import { Menu } from '@mantine/core';
import { Fragment, useEffect, useRef } from 'react';
import { SheetLine } from '../ui/Sheet';
import { Dragging, SortableItems } from '../ui/Sortable';
import { Act, Figure } from '../ui/text';
import { BlockView } from './BlockView';
import classes from './letters.module.css';
import { Paper } from './Paper';
import { LineEditor } from './TextEditor';

export interface WritingProps {
  readonly content: LetterContent;
  readonly chosen: string | undefined;
  /** Where the address that the page was opened with leads. */
  readonly opensAt: string | undefined;
  readonly disabled: boolean;
  readonly onChoose: (block: string) => void;
  readonly onChange: (content: LetterContent, place?: string) => void;
}

export function Writing(props: WritingProps) {
  const desk = useRef<HTMLDivElement>(null);
  const first = useRef(props.opensAt);
  useEffect(() => {
    const at = first.current;
    if (at !== undefined)
      setTimeout(
        () => document.getElementById(`block-${at}`)?.scrollIntoView({ block: 'center' }),
        60,
      );
  }, []);
  return (
    <>
      <Lines {...props} />
      <div className={classes.desk} ref={desk}>
        <Paper>
          <Blocks {...props} />
        </Paper>
      </div>
    </>
  );
}

function Lines({ content, disabled, onChange }: WritingProps) {
  const length = [...lineText(content.preview)].length;
  const isGood = length >= PREVIEW.least && length <= PREVIEW.most;
  return (
    <div className={classes.lines}>
      <SheetLine label="subject" id="block-subject" whole>
        <LineEditor
          label="Subject"
          className={classes.boxed}
          value={content.subject}
          disabled={disabled}
          tools="beside"
          onChange={(subject) => onChange({ ...content, subject }, 'subject')}
        />
      </SheetLine>
      <SheetLine label="preview" id="block-preview" whole>
        <LineEditor
          label="Preview line"
          className={classes.boxed}
          value={content.preview}
          disabled={disabled}
          tools="beside"
          onChange={(preview) => onChange({ ...content, preview }, 'preview')}
        />
        <Figure
          fz="xs"
          c={isGood ? 'dimmed' : 'var(--caution)'}
          title={`${PREVIEW.least} to ${PREVIEW.most} signs work`}
        >
          {length}
        </Figure>
      </SheetLine>
    </div>
  );
}

/** Once it is drawn. */
const soon = (block: string, act: (element: HTMLElement) => void): void =>
  void setTimeout(() => {
    const element = document.getElementById(`block-${block}`);
    if (element) act(element);
  }, 60);

function Blocks({ content, chosen, disabled, onChoose, onChange }: WritingProps) {
  const put = (kind: BlockKind, at: number): void => {
    const block: Block = emptyBlock(kind, crypto.randomUUID());
    onChange(insertBlock(content, block, at));
    onChoose(block.id);
    soon(block.id, (element) =>
      element.querySelector<HTMLElement>('.ProseMirror, input, [tabindex="0"]')?.focus(),
    );
  };
  const place = (id: string): number => content.blocks.findIndex((block) => block.id === id);
  const drop = (from: string, to: string): void => {
    onChange(moveBlock(content, from, place(to) - place(from)));
    onChoose(from);
  };
  const move = (id: string, by: number): void => {
    onChange(moveBlock(content, id, by));
    soon(id, (element) => element.scrollIntoView({ block: 'nearest' }));
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
              onMove={(by) => move(block.id, by)}
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
    <div className={`${classes.put} ${last ? classes.putLast : ''}`}>
      <Menu>
        <Menu.Target>
          <Act>+ put something here</Act>
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
