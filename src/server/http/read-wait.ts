import { KenosisError } from '../../core/errors';
import { waitSchema } from './requests';

/** How many seconds a request lets its answer wait. Throws `bad-argument`. */
export function readWait(request: Request): number {
  const read = waitSchema.safeParse(new URL(request.url).searchParams.get('wait') ?? undefined);
  if (read.success) return read.data;
  throw new KenosisError('bad-argument', `wait: expected 0 to 600 seconds`);
}
