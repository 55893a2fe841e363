import { KenosisError } from '../../../core/errors';
import { guarded } from '../../../server/guard';

export const dynamic = 'force-dynamic';

const nothing = guarded(() =>
  Promise.reject(new KenosisError('not-found', 'There is nothing under this address.')),
);

export { nothing as GET, nothing as POST, nothing as PUT, nothing as PATCH, nothing as DELETE };
