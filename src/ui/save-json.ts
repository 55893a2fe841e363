/** Saves a value as a JSON file, as a download does. */
export function saveJson(value: unknown, fileName: string): void {
  const text = `${JSON.stringify(value, null, 2)}\n`;
  const address = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = address;
  link.download = fileName;
  link.click();
  URL.revokeObjectURL(address);
}
