/** The parser in one file, without the tables of properties that the package reads from its folder. */
declare module 'css-tree/dist/csstree.esm' {
  export * from 'css-tree';
}
