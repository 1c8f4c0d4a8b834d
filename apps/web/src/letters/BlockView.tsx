// One block as it is written: what it shows, its settings under it, and moving above it.
import { ActionIcon, Tooltip } from '@mantine/core';
import { blockWords, type Block } from '@palabra/core/letters';
import { IconArrowDown, IconArrowUp, IconTrash } from '@tabler/icons-react';
import { useDrag } from '../ui/Sortable';
import { BlockBody } from './blocks';
import classes from './letters.module.css';

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

export function BlockView(props: BlockViewProps) {
  const { block, chosen, disabled, onChoose, onChange, onMove } = props;
  const canMove = !disabled && block.kind !== 'footer';
  const { hold, style, handle } = useDrag(block.id, !canMove);
  return (
    <div
      id={`block-${block.id}`}
      ref={hold}
      style={style}
      className={`${classes.block} ${chosen ? classes.chosen : ''}`}
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
      <span className={classes.handle}>{handle}</span>
      {chosen && canMove && <Moving {...props} />}
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

function Moving({ first, last, onMove, onRemove }: BlockViewProps) {
  return (
    <div className={classes.side}>
      <Tooltip label="Alt+Up">
        <ActionIcon aria-label="Move up" disabled={first} onClick={() => onMove(-1)}>
          <IconArrowUp size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Alt+Down">
        <ActionIcon aria-label="Move down" disabled={last} onClick={() => onMove(1)}>
          <IconArrowDown size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Take out">
        <ActionIcon aria-label="Take out" onClick={onRemove}>
          <IconTrash size={16} />
        </ActionIcon>
      </Tooltip>
    </div>
  );
}
