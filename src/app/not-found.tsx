import { NothingHere } from '../ui/frame/NothingHere';

export default function NotFound() {
  return (
    <NothingHere what="This page is not there" why="it was moved" place={{ href: '/', name: 'the Shelf' }} />
  );
}
