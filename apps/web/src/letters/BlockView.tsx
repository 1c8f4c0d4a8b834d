// One block as it is written: what it shows, its settings under it, and moving beside it.
import { blockWords, type Block } from '@palabra/core/letters';
import { useDrag } from '../ui/Sortable';
import { BlockBody } from './blocks';

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

export function BlockView({
  block,
  chosen,
  disabled,
  first,
  last,
  onChoose,
  onChange,
  onMove,
  onRemove,
}: BlockViewProps) {
  const canMove = !disabled && block.kind !== 'footer';
  const { hold, style, handle } = useDrag(block.id, !canMove);
  return (
    <div
      id={`block-${block.id}`}
      ref={hold}
      style={style}
      className={`block ${chosen ? 'chosen' : ''}`}
      role="group"
      aria-label={blockWords(block.kind)}
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
      <BlockBody
        block={block}
        chosen={chosen}
        disabled={disabled}
        onChoose={onChoose}
        onChange={onChange}
      />
    </div>
  );
}
