export { default } from '../../bench/[id]/not-found';
