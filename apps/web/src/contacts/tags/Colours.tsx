// The colours of tags, one of them chosen.
import { ColorSwatch, Group } from '@mantine/core';
import { tagColours, type TagColour } from '@palabra/core/contacts';
import { IconCheck } from '@tabler/icons-react';

interface ColoursProps {
  readonly label: string;
  readonly value: TagColour;
  readonly onChange: (colour: TagColour) => void;
}

export function Colours({ label, value, onChange }: ColoursProps) {
  return (
    <Group gap={6} role="radiogroup" aria-label={label}>
      {tagColours.map((one) => (
        <ColorSwatch
          key={one}
          component="button"
          type="button"
          role="radio"
          aria-checked={one === value}
          aria-label={one}
          title={one}
          size={24}
          radius={3}
          color={`var(--tag-${one})`}
          withShadow={false}
          onClick={() => onChange(one)}
        >
          {one === value && <IconCheck size={15} color="var(--paper)" aria-hidden />}
        </ColorSwatch>
      ))}
    </Group>
  );
}
