/** Every class is called what it is called in its sheet. */
const classes: Readonly<Record<string, string>> = new Proxy(
  {},
  { get: (_, name) => (typeof name === 'string' ? name : undefined) },
);

export default classes;
