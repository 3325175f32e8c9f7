// Ids that pages make up. The browser's own are for addresses it trusts only, and a server on a local network is not one.
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');
}
