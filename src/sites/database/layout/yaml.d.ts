/** A layout that ships with the program, as the build makes it: its content, checked, and the line on which each kind begins. */
declare module '*.yaml' {
  const layout: { readonly layout: import('./schema.ts').Layout; readonly lines: Readonly<Record<string, number>> };
  export default layout;
}
