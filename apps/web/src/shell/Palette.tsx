// Ctrl+K: finds people, segments, letters, campaigns and what can be done, wherever one is.
import { Spotlight, type SpotlightStore } from '@mantine/spotlight';
import '@mantine/spotlight/styles.css';
import { useState } from 'react';
import { useFinds, type Find } from './finds';
import classes from './shell.module.css';

export function Palette({ store }: { readonly store: SpotlightStore }) {
  const [text, setText] = useState('');
  return (
    <Spotlight.Root
      store={store}
      query={text}
      onQueryChange={setText}
      shortcut={null}
      size={640}
      yOffset="12vh"
      scrollable
      maxHeight="60vh"
      aria-label="Find or do something"
    >
      <Spotlight.Search
        aria-label="Find people, segments, letters, campaigns, or do something"
        placeholder="find people, segments, letters, campaigns, or do something"
        maxLength={200}
      />
      <Found text={text} />
    </Spotlight.Root>
  );
}

function Found({ text }: { readonly text: string }) {
  const finds = useFinds(text);
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
