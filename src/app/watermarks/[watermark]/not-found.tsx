import { NothingHere } from '../../../ui/frame/NothingHere';

export default function NotFound() {
  return (
    <NothingHere
      what="There is no such watermark"
      why="the watermark was thrown away"
      place={{ href: '/watermarks', name: 'Watermarks' }}
    />
  );
}
