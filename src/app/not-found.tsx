import Link from 'next/link';

export default function NotFound() {
  return (
    <main style={{ padding: 48, maxWidth: 520 }}>
      <h1>This piece is not on the Shelf</h1>
      <p>Its address is wrong, or the piece was removed. Everything else is safe.</p>
      <Link href="/">Go to the Shelf</Link>
    </main>
  );
}
