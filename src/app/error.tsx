'use client';

/** What is shown when a screen fails; the pieces themselves are never at stake. */
export default function ScreenError({ error, reset }: { readonly error: Error; readonly reset: () => void }) {
  return (
    <main style={{ padding: 48, maxWidth: 520 }}>
      <h1>This screen stopped</h1>
      <p>{error.message || 'Something went wrong inside Kenosis.'}</p>
      <p>Your pieces and everything saved are safe.</p>
      <button type="button" onClick={reset}>
        Open the screen again
      </button>
    </main>
  );
}
