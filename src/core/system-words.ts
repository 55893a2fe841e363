import { isOutOfSpace } from './errors';

/** What an operating system says of a file, in words. */
export function wordsOf(error: unknown): string {
  if (isOutOfSpace(error)) return 'the disk is full';
  const { code } = error as { readonly code?: string };
  switch (code) {
    case 'ENOENT':
      return 'there is no such file or folder';
    case 'EACCES':
    case 'EPERM':
      return 'you may not do that there';
    case 'EROFS':
      return 'the disk cannot be written to';
    case 'ENAMETOOLONG':
      return 'the name is too long';
    case 'ENOTDIR':
      return 'a part of the path is no folder';
    case 'EISDIR':
      return 'it is a folder';
    case 'ELOOP':
      return 'its links lead around in a circle';
    case 'EPIPE':
      return 'whoever read it went away';
    default:
      return code ? `the system said ${code}` : 'something went wrong while writing';
  }
}
