/** JSON Schema of JSON Feed 1. */
declare module 'jsonfeed-schema' {
  const schema: { $schema: string };
  export default schema;
}
