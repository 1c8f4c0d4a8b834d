// Ctrl+K: finds people, segments, letters, campaigns and what can be done, wherever one is.
import { Spotlight, type SpotlightStore } from '@mantine/spotlight';
import '@mantine/spotlight/styles.css';
import { useEffect, useRef, useState } from 'react';
import { useFinds, type Find } from './finds';
import classes from './shell.module.css';

export function Palette({ store }: { readonly store: SpotlightStore }) {
  const [text, setText] = useState('');
  return (
    <Spotlight.Root
      store={store}
      query={text}
      onQueryChange={setText}
      // It is gone at once: the next key is for what was found.
      transitionProps={{ duration: 0 }}
      onSpotlightClose={() => setText('')}
      shortcut={null}
      size={640}
      yOffset="12vh"
      scrollable
      maxHeight="60vh"
      overlayProps={{ blur: 0, backgroundOpacity: 0.35 }}
    >
      <Finding text={text} store={store} />
    </Spotlight.Root>
  );
}

function Finding({ text, store }: { readonly text: string; readonly store: SpotlightStore }) {
  const { finds, isWhole } = useFinds(text);
  /** Chosen by arrows: stays chosen while more is found. Otherwise it is the first, whatever that is. */
  const isChosen = useRef(false);
  /** Enter came before all was found: the first of it is what was meant. */
  const isWanted = useRef(false);
  const keys = finds.map(({ key }) => key).join(' ');
  useEffect(() => {
    const { listId } = store.getState();
    const found = [...(document.getElementById(listId)?.querySelectorAll('[data-action]') ?? [])];
    const marked = found.find((one) => one.hasAttribute('data-selected'));
    const next = isChosen.current && marked ? marked : found[0];
    // Marked as the library marks it.
    marked?.removeAttribute('data-selected');
    next?.setAttribute('data-selected', 'true');
    store.updateState((state) => ({ ...state, selected: next ? found.indexOf(next) : -1 }));
    if (!isWanted.current || !isWhole) return;
    isWanted.current = false;
    if (next instanceof HTMLElement) next.click();
  }, [keys, isWhole, store]);
  const groups = [...new Set(finds.map(({ group }) => group))];
  return (
    <>
      <Spotlight.Search
        aria-label="Find people, segments, letters, campaigns, or do something"
        placeholder="find people, segments, letters, campaigns, or do something"
        maxLength={200}
        onChange={() => {
          isChosen.current = false;
          isWanted.current = false;
        }}
        onKeyDownCapture={(event) => {
          if (event.key.startsWith('Arrow')) isChosen.current = true;
          if (event.key !== 'Enter' || event.nativeEvent.isComposing) return;
          if (isWhole || isChosen.current) return;
          isWanted.current = true;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      <Spotlight.ActionsList aria-label="What was found">
        {groups.map((group) => (
          <Spotlight.ActionsGroup key={group} label={group}>
            {finds
              .filter((find) => find.group === group)
              .map((find) => (
                <Action key={find.key} find={find} />
              ))}
          </Spotlight.ActionsGroup>
        ))}
        {finds.length === 0 && (
          <Spotlight.Empty>{isWhole ? 'Nothing is called that.' : 'looking …'}</Spotlight.Empty>
        )}
      </Spotlight.ActionsList>
    </>
  );
}

function Action({ find: { label, note, go } }: { readonly find: Find }) {
  return (
    <Spotlight.Action className={classes.found} onClick={go}>
      <span className={classes.foundLabel}>{label}</span>
      {note && <span className={classes.foundNote}>{note}</span>}
    </Spotlight.Action>
  );
}
