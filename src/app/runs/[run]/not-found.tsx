import { NothingHere } from '../../../ui/frame/NothingHere';

export default function NotFound() {
  return (
    <NothingHere
      what="There is no such run"
      why="the run was forgotten"
      place={{ href: '/runs', name: 'Runs' }}
    />
  );
}
