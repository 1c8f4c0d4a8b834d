// The bodies of all kinds of block.
import type { Block, BlockKind, BlockOf } from '@palabra/core/letters';
import { createElement, type ReactNode } from 'react';
import { Button } from './button';
import { Divider } from './divider';
import { Footer } from './footer';
import { Heading } from './heading';
import type { Body, BodyProps } from './kind';
import { Picture } from './picture';
import { Text } from './text';

const bodies = {
  heading: Heading,
  text: Text,
  picture: Picture,
  button: Button,
  divider: Divider,
  footer: Footer,
} satisfies { readonly [K in BlockKind]: Body<BlockOf<K>> };

/** Each is only ever given blocks of its own. */
export const BlockBody = (props: BodyProps<Block>): ReactNode =>
  createElement(bodies[props.block.kind] as unknown as Body<Block>, props);
