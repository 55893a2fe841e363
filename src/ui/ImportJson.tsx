import { Button } from '@mantine/core';
import { useRef } from 'react';

/** Brings a document back that was exported. */
export function ImportJson({
  label,
  onRead,
  onTrouble,
}: {
  /** What the file is, for those who do not see the button. */
  readonly label: string;
  readonly onRead: (document: unknown, fileName: string) => void;
  readonly onTrouble: (message: string) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const read = async (file: File | undefined) => {
    if (!file) return;
    try {
      onRead(JSON.parse(await file.text()), file.name);
    } catch {
      onTrouble(`"${file.name}" is no JSON document. Nothing was changed.`);
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="application/json"
        hidden
        aria-label={label}
        onChange={({ currentTarget }) => {
          void read(currentTarget.files?.[0]);
          currentTarget.value = '';
        }}
      />
      <Button variant="default" size="xs" onClick={() => input.current?.click()}>
        Import
      </Button>
    </>
  );
}
