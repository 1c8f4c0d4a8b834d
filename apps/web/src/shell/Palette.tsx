// Ctrl+K: finds people, segments, letters, campaigns and what can be done, wherever one is.
import { Spotlight, type SpotlightStore } from '@mantine/spotlight';
import '@mantine/spotlight/styles.css';
import { useEffect, useState } from 'react';
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
      <Spotlight.Search
        aria-label="Find people, segments, letters, campaigns, or do something"
        placeholder="find people, segments, letters, campaigns, or do something"
        maxLength={200}
      />
      <Found text={text} store={store} />
    </Spotlight.Root>
  );
}

function Found({ text, store }: { readonly text: string; readonly store: SpotlightStore }) {
  const finds = useFinds(text);
  const keys = finds.map(({ key }) => key).join(' ');
  // What Enter would take may have gone with the answer to the next letter; then it is the first, marked as the library marks it.
  useEffect(() => {
    const list = document.getElementById(store.getState().listId);
    if (!list || list.querySelector('[data-selected]')) return;
    list.querySelector('[data-action]')?.setAttribute('data-selected', 'true');
    store.updateState((state) => ({ ...state, selected: 0 }));
  }, [keys, store]);
  const groups = [...new Set(finds.map(({ group }) => group))];
  return (
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
      {finds.length === 0 && <Spotlight.Empty>Nothing is called that.</Spotlight.Empty>}
    </Spotlight.ActionsList>
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
