import Link from 'next/link';
import type { ReactNode } from 'react';
import classes from './frame.module.css';
import { Mark } from './Mark';
import { ThemeSwitch } from './ThemeSwitch';

const SCREENS = [
  { key: 'shelf', name: 'Shelf', address: '/' },
  { key: 'proofs', name: 'Proofs', address: '/proofs' },
  { key: 'watermarks', name: 'Watermarks', address: '/watermarks' },
  { key: 'runs', name: 'Runs', address: '/runs' },
] as const;

/** The slim header of every screen but the bench: the screens beside each other, and what this one says of itself. */
export function ScreenHeader({
  screen,
  title = null,
  children,
}: {
  readonly screen: (typeof SCREENS)[number]['key'];
  /** What within the screen is open; the screen's name leads back then. */
  readonly title?: string | null;
  readonly children?: ReactNode;
}) {
  return (
    <header className={classes.header}>
      <Mark />
      <span className={classes.product}>Kenosis</span>
      <nav className={classes.screens} aria-label="Screens">
        {SCREENS.map(({ key, name, address }) => {
          const isHere = key === screen && title === null;
          return isHere ? (
            <h1 key={key} className={classes.screen} data-here>
              {name}
            </h1>
          ) : (
            <Link key={key} href={address} className={classes.screen} data-here={key === screen || undefined}>
              {name}
            </Link>
          );
        })}
      </nav>
      {title !== null && (
        <h1 className={classes.within} title={title}>
          {title}
        </h1>
      )}
      {children}
      <span className={classes.space} />
      <ThemeSwitch />
    </header>
  );
}
