/** A layout that ships with the program, as the build makes it: its content, and the line on which each kind begins. */
declare module '*.yaml' {
  const layout: { readonly json: Record<string, unknown>; readonly lines: Readonly<Record<string, number>> };
  export default layout;
}
