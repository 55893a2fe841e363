import { NothingHere } from '../../../ui/frame/NothingHere';

export default function NotFound() {
  return (
    <NothingHere
      what="There is no such proof"
      why="the proof was thrown away"
      place={{ href: '/proofs', name: 'Proofs' }}
    />
  );
}
