/** Where the media files of a site lie, by path. Paths are relative, and never lead out of it. Every method throws a `Problem` where it cannot be reached. */
export interface MediaStore {
  /** What it is called in messages. */
  readonly name: string;
  /** Why it cannot be used, in words. */
  fault(): Promise<string | undefined>;
  /** Undefined where there is no such file. `stamp`: changes with the content; empty where that cannot be told. `digest`: SHA-256 in hexadecimal, where the store knows it. */
  look(path: string): Promise<{ readonly bytes: number; readonly stamp: string; readonly digest?: string } | undefined>;
  /** SHA-256 in hexadecimal, of the content. */
  digest(path: string): Promise<string | undefined>;
  read(path: string): Promise<Buffer | undefined>;
  write(path: string, type: string, bytes: Buffer): Promise<void>;
  move(from: string, to: string): Promise<void>;
  close(): void;
}

/** May a path be used? Every piece of it has to be a name. */
export function isInside(path: string): boolean {
  return path !== '' && !/[\0\\]/.test(path) && path.split('/').every((piece) => piece !== '' && piece !== '.' && piece !== '..');
}
