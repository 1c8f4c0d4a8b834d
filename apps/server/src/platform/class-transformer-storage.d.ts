declare module 'class-transformer/cjs/storage.js' {
  const storage: { readonly defaultMetadataStorage: import('class-validator-jsonschema').IOptions['classTransformerMetadataStorage'] };
  export default storage;
}
