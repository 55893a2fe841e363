import { NothingHere } from '../../../ui/frame/NothingHere';

export default function NotFound() {
  return (
    <NothingHere
      what="This piece is not on the Shelf"
      why="the piece was removed"
      place={{ href: '/', name: 'the Shelf' }}
    />
  );
}
