import { Popover, Tooltip, UnstyledButton } from '@mantine/core';
import { IconPhoto } from '@tabler/icons-react';
import { useState } from 'react';
import { api, type ShelfPieceFacts } from '../../bench/api';
import { pieceOfBacking } from '../../core/view/backing';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Lays the cutout on the original of any other piece. */
export function PictureBacking({ chosen }: { readonly chosen: boolean }) {
  const own = useBench((state) => state.piece.id);
  const backing = useBench((state) => state.backing);
  const actions = useBenchActions();
  const [open, setOpen] = useState(false);
  const [pieces, setPieces] = useState<readonly ShelfPieceFacts[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const show = () => {
    setOpen((is) => !is);
    void api.pieces().then(
      (shelf) => setPieces(shelf.pieces.filter(({ id }) => id !== own)),
      (error: Error) => setProblem(error.message),
    );
  };
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" trapFocus returnFocus width={296}>
      <Popover.Target>
        <Tooltip label="A picture of the Shelf" disabled={open}>
          <UnstyledButton
            role="radio"
            aria-checked={chosen}
            aria-label="Picture of the Shelf as backing"
            className={classes.swatch}
            onClick={show}
          >
            <IconPhoto size={14} stroke={1.7} aria-hidden="true" />
          </UnstyledButton>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown p="xs">
        {problem && <p className={classes.problem}>{problem}</p>}
        {!problem && !pieces && <p className={classes.soft}>Looking at the Shelf</p>}
        {pieces?.length === 0 && (
          <p className={classes.soft}>
            No other picture is on the Shelf. Bring one in to lay this piece on it.
          </p>
        )}
        <div className={classes.pictures}>
          {pieces?.map(({ id, name }) => (
            <UnstyledButton
              key={id}
              aria-label={`Lay it on ${name}`}
              aria-pressed={pieceOfBacking(backing) === id}
              onClick={() => {
                actions.setBacking(`piece:${id}`);
                setOpen(false);
              }}
            >
              {/* oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server */}
              <img src={api.untouchedAddress(id)} alt="" />
              <span>{name}</span>
            </UnstyledButton>
          ))}
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}
