import type { TagColour } from '@palabra/core/contacts';

/** A tag: its colour on the leading edge, its word in dark text. */
export function Flag({
  name,
  colour,
  onTakeOff,
}: {
  readonly name: string;
  readonly colour: TagColour;
  readonly onTakeOff?: () => void;
}) {
  return (
    <span className="flag" style={{ ['--flag' as string]: `var(--tag-${colour})` }} title={name}>
      <span>{name}</span>
      {onTakeOff && (
        <button type="button" aria-label={`Take the tag ${name} off`} onClick={onTakeOff}>
          ×
        </button>
      )}
    </span>
  );
}
