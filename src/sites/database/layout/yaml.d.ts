declare module '*.yaml' {
  const text: string;
  export default text;
}
