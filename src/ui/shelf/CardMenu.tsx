import { ActionIcon, Menu } from '@mantine/core';
import { IconDots } from '@tabler/icons-react';
import Link from 'next/link';
import { useState } from 'react';
import { notifications } from '@mantine/notifications';
import { useRouter } from 'next/navigation';
import { api, type ShelfPieceFacts } from '../../bench/api';
import { proofOfPiece } from '../../bench/proof-of-piece';
import classes from './shelf.module.css';

interface Props {
  readonly piece: ShelfPieceFacts;
  readonly onRename: () => void;
  readonly onDeliveries: () => void;
  readonly onDiscard: () => void;
}

/** What can be done with a piece. The menu itself is made when it is first asked for: a Shelf may hold hundreds. */
export function CardMenu({ piece, onRename, onDeliveries, onDiscard }: Props) {
  const [used, setUsed] = useState(false);
  const router = useRouter();
  const tryOn = async () => {
    try {
      router.push(`/proofs/${await proofOfPiece(piece.id)}`);
    } catch (error) {
      notifications.show({ message: error instanceof Error ? error.message : String(error) });
    }
  };
  const label = `More for ${piece.name}`;
  if (!used)
    return (
      <ActionIcon
        size={24}
        className={classes.more}
        aria-label={label}
        aria-haspopup="menu"
        aria-expanded={false}
        onClick={() => setUsed(true)}
      >
        <IconDots size={16} stroke={1.8} />
      </ActionIcon>
    );
  return (
    <Menu
      defaultOpened
      position="bottom-end"
      shadow="none"
      returnFocus={false}
      transitionProps={{ duration: 80 }}
    >
      <Menu.Target>
        <ActionIcon size={24} className={classes.more} aria-label={label}>
          <IconDots size={16} stroke={1.8} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={onRename}>Rename</Menu.Item>
        <Menu.Item disabled={piece.deliveries === 0} onClick={onDeliveries}>
          {piece.deliveries === 1 ? 'Show 1 delivery' : `Show ${piece.deliveries} deliveries`}
        </Menu.Item>
        <Menu.Item onClick={() => void tryOn()}>Try it on</Menu.Item>
        <Menu.Item component={Link} href={`/lay/${piece.id}`}>
          Lay its settings on others
        </Menu.Item>
        <Menu.Item component="a" href={api.originalAddress(piece.id)}>
          Download the original
        </Menu.Item>
        <Menu.Item
          component="a"
          href={api.bundleAddress([piece.id], piece.name.replace(/\.[A-Za-z0-9]{1,5}$/, ''))}
        >
          Export as a bundle
        </Menu.Item>
        <Menu.Divider />
        <Menu.Item onClick={onDiscard}>Put into the trash</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
