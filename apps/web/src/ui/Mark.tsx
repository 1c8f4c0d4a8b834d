// The word-mark.
import { Text } from '@mantine/core';

export function Mark({ large }: { readonly large?: boolean }) {
  return (
    <Text span fw={800} fz={large ? 28 : 20} lts="-0.02em" c="var(--ink)">
      palabra
      <Text span inherit c="var(--accent)">
        .
      </Text>
    </Text>
  );
}
