/** The address, or nothing where it is none. `URL.canParse` of Node 20 denies good ones with signs beyond ASCII once it has been called often. */
export function urlOf(text: string): URL | undefined {
  try {
    return new URL(text);
  } catch {
    return undefined;
  }
}
