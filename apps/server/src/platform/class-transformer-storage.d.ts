declare module 'class-transformer/cjs/storage.js' {
  /** Not part of the package's own types; only ever handed on. */
  const storage: { readonly defaultMetadataStorage: never };
  export default storage;
}
