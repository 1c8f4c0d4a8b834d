import 'csstype';

declare module 'csstype' {
  // Sizes and colours that a style sheet takes as variables.
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  interface Properties<TLength, TTime> {
    [name: `--${string}`]: string | number | undefined;
  }
}
