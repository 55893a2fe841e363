/** Whether keys belong to a field that somebody types into. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement)
    return !['checkbox', 'radio', 'button', 'range'].includes(target.type);
  return target instanceof HTMLTextAreaElement || target.isContentEditable;
}
