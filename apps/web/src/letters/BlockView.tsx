// One block as it is written: what it shows, its settings under it, and moving beside it.
import type { Block, ButtonBlock, PictureBlock } from '@palabra/core/letters';
import { isSafeHref } from '@palabra/core/letters';
import { useState } from 'react';
import { problemOf } from '../app/api';
import { useOffice } from '../office/OfficeContext';
import { useDrag } from '../ui/Sortable';
import { useAddPictureMutation } from './letters.api';
import { LineEditor, TextEditor } from './TextEditor';

interface BlockViewProps {
  readonly block: Block;
  readonly chosen: boolean;
  readonly disabled: boolean;
  readonly first: boolean;
  readonly last: boolean;
  readonly onChoose: () => void;
  readonly onChange: (block: Block) => void;
  readonly onMove: (by: number) => void;
  readonly onRemove: () => void;
}

const names: Record<Block['kind'], string> = {
  heading: 'Heading',
  text: 'Text',
  picture: 'Picture',
  button: 'Button',
  divider: 'Divider',
  footer: 'Footer',
};

export function BlockView(props: BlockViewProps) {
  const { block, chosen, disabled, first, last, onChoose, onMove, onRemove } = props;
  const canMove = !disabled && block.kind !== 'footer';
  const { hold, style, handle } = useDrag(block.id, !canMove);
  return (
    <div
      id={`block-${block.id}`}
      ref={hold}
      style={style}
      className={`block ${chosen ? 'chosen' : ''}`}
      role="group"
      aria-label={names[block.kind]}
      tabIndex={-1}
      onFocusCapture={onChoose}
      onMouseDown={onChoose}
      onKeyDown={(event) => {
        if (disabled || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown'))
          return;
        event.preventDefault();
        onMove(event.key === 'ArrowUp' ? -1 : 1);
      }}
    >
      {handle}
      {chosen && canMove && (
        <div className="block-side">
          <button type="button" disabled={first} title="Alt+Up" onClick={() => onMove(-1)}>
            move up
          </button>
          <button type="button" disabled={last} title="Alt+Down" onClick={() => onMove(1)}>
            move down
          </button>
          <button type="button" onClick={onRemove}>
            take out
          </button>
        </div>
      )}
      <BlockBody {...props} />
    </div>
  );
}

function BlockBody({ block, chosen, disabled, onChoose, onChange }: BlockViewProps) {
  const { office } = useOffice();
  switch (block.kind) {
    case 'heading':
      return (
        <LineEditor
          label="Heading"
          className="letter-heading"
          value={block.text}
          disabled={disabled}
          tools={chosen ? 'settings' : 'none'}
          onChange={(text) => onChange({ ...block, text })}
        />
      );
    case 'text':
      return (
        <TextEditor
          label="Text"
          value={block.text}
          disabled={disabled}
          chosen={chosen}
          onChange={(text) => onChange({ ...block, text })}
        />
      );
    case 'picture':
      return <Picture block={block} chosen={chosen} disabled={disabled} onChange={onChange} />;
    case 'button':
      return <ButtonBody block={block} chosen={chosen} disabled={disabled} onChange={onChange} />;
    case 'divider':
      return (
        <div tabIndex={disabled ? undefined : 0} role="img" aria-label="Divider" onFocus={onChoose}>
          <hr style={{ border: 0, borderTop: '1px solid var(--hair)', margin: '10px 0' }} />
        </div>
      );
    case 'footer':
      return (
        <div className="letter-footer">
          <b>{office.name}</b>
          {'\n'}
          {office.postalAddress || (
            <span className="wrong">
              The office has no postal address yet; fill it in under Settings.
            </span>
          )}
          {'\n'}
          <input
            className="line-input"
            style={{ width: '100%', fontSize: 13, color: 'var(--soft)', margin: '6px 0' }}
            aria-label="Why the letter arrives"
            maxLength={500}
            disabled={disabled}
            value={block.reason}
            onChange={(event) => onChange({ ...block, reason: event.currentTarget.value })}
          />
          {'\n'}
          <u>Leave these letters</u>
        </div>
      );
  }
}

function Href({
  value,
  disabled,
  onChange,
}: {
  readonly value: string;
  readonly disabled: boolean;
  readonly onChange: (href: string) => void;
}) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  if (value !== seen) {
    setSeen(value);
    setText(value);
  }
  // Half an address is kept here and not in the letter, which holds whole ones only.
  const wrong = text !== '' && !isSafeHref(text);
  const leave = (): void => {
    const target =
      text.trim() === '' || /^[a-z]+:/i.test(text.trim()) ? text.trim() : `https://${text.trim()}`;
    setText(target);
    if (target === '' || isSafeHref(target)) onChange(target);
  };
  return (
    <label style={{ flex: '1 1 240px' }}>
      leads to
      <input
        className="line-input"
        style={{ flex: 1 }}
        placeholder="https://"
        maxLength={2000}
        disabled={disabled}
        aria-invalid={wrong}
        value={text}
        onChange={(event) => {
          const next = event.currentTarget.value;
          setText(next);
          if (next === '' || isSafeHref(next)) onChange(next);
        }}
        onBlur={leave}
      />
      {wrong && <span className="wrong small">not a whole address yet</span>}
    </label>
  );
}

function ButtonBody({
  block,
  chosen,
  disabled,
  onChange,
}: {
  readonly block: ButtonBlock;
  readonly chosen: boolean;
  readonly disabled: boolean;
  readonly onChange: (block: Block) => void;
}) {
  return (
    <>
      <div style={{ display: 'flex', justifyContent: 'center', padding: '4px 0' }}>
        <LineEditor
          label="Words on the button"
          className="letter-button"
          value={block.label}
          disabled={disabled}
          tools="none"
          onChange={(label) => onChange({ ...block, label })}
        />
      </div>
      {chosen && (
        <div className="block-settings">
          <Href
            value={block.href}
            disabled={disabled}
            onChange={(href) => onChange({ ...block, href })}
          />
        </div>
      )}
    </>
  );
}

function Picture({
  block,
  chosen,
  disabled,
  onChange,
}: {
  readonly block: PictureBlock;
  readonly chosen: boolean;
  readonly disabled: boolean;
  readonly onChange: (block: Block) => void;
}) {
  const [upload, uploading] = useAddPictureMutation();
  const [error, setError] = useState<string>();
  const [over, setOver] = useState(false);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setError(undefined);
    if (file.size > 10 * 1024 * 1024) {
      setError(`This picture has ${Math.round(file.size / 1024 / 1024)} MB; 10 MB are the most.`);
      return;
    }
    try {
      const { file: id, width, height } = await upload(file).unwrap();
      onChange({ ...block, file: id, width, height });
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  return (
    <>
      {block.file === '' ? (
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
            accept="image/*"
            aria-label="Choose a picture"
            disabled={disabled}
            onChange={(event) => void take(event.currentTarget.files?.[0])}
          />
          {uploading.isLoading ? 'Taking it in …' : 'Choose a picture, or drop one here'}
        </label>
      ) : (
        <img
          src={`/files/${block.file}`}
          alt={block.alt}
          style={{ display: 'block', width: '100%', height: 'auto' }}
          width={block.width}
          height={block.height}
        />
      )}
      {error && (
        <p className="wrong small" role="alert">
          {error}
        </p>
      )}
      {chosen && (
        <div className="block-settings">
          <label style={{ flex: '1 1 220px' }}>
            says, for those who don’t see it
            <input
              className="line-input"
              style={{ flex: 1 }}
              aria-label="Alt text"
              maxLength={500}
              disabled={disabled}
              value={block.alt}
              onChange={(event) => onChange({ ...block, alt: event.currentTarget.value })}
            />
          </label>
          <Href
            value={block.href}
            disabled={disabled}
            onChange={(href) => onChange({ ...block, href })}
          />
          {block.file !== '' && !disabled && (
            <label className="act" style={{ color: 'var(--accent)' }}>
              <input
                type="file"
                className="hidden"
                accept="image/*"
                aria-label="Choose another picture"
                onChange={(event) => void take(event.currentTarget.files?.[0])}
              />
              {uploading.isLoading ? 'Taking it in …' : 'Another picture'}
            </label>
          )}
        </div>
      )}
    </>
  );
}
