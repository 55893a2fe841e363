import Link from 'next/link';

interface NothingHereProps {
  readonly what: string;
  readonly why: string;
  /** Where everything of its kind lies. */
  readonly place: { readonly href: string; readonly name: string };
}

/** What an address says that leads to nothing. */
export function NothingHere({ what, why, place }: NothingHereProps) {
  return (
    <main style={{ padding: 48, maxWidth: 520 }}>
      <h1>{what}</h1>
      <p>Its address is wrong, or {why}. Everything else is safe.</p>
      <Link href={place.href}>Go to {place.name}</Link>
    </main>
  );
}
