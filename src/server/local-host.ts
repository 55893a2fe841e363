/** Hosts this server answers to; a page that points its own name at 127.0.0.1 is not among them. */
export function isLocalHost(host: string | null): boolean {
  return host !== null && /^(127\.0\.0\.1|localhost|\[::1\])(:\d{1,5})?$/.test(host);
}
