import { stepBehind } from './behind';
import { isKenosisError, isOutOfSpace } from '../../core/errors';
import {
  check,
  deliver,
  ground,
  groundPicture,
  inspect,
  leaf,
  look,
  master,
  placed,
  proof,
  ready,
  routine,
  seen,
  thumbnail,
  type Task,
} from './tasks';

stepBehind();

/** The entry of a worker thread. Errors with a code are returned, since a thread's border strips them of it. */
export default async function work(task: Task) {
  try {
    switch (task.kind) {
      case 'deliver':
        return { result: await deliver(task.input) };
      case 'check':
        return { result: await check(task.input) };
      case 'thumbnail':
        return { result: await thumbnail(task.input) };
      case 'ready':
        return { result: await ready(task.input) };
      case 'look':
        return { result: await look(task.input) };
      case 'inspect':
        return { result: await inspect(task.input) };
      case 'master':
        return { result: await master(task.input) };
      case 'leaf':
        return { result: await leaf(task.input) };
      case 'routine':
        return { result: await routine(task.input) };
      case 'ground':
        return { result: await ground(task.input) };
      case 'ground-picture':
        return { result: await groundPicture(task.input) };
      case 'placed':
        return { result: await placed(task.input) };
      case 'seen':
        return { result: await seen(task.input) };
      case 'proof':
        return { result: await proof(task.input) };
    }
  } catch (error) {
    if (isKenosisError(error))
      return { refused: { code: error.code, message: error.message, wayOut: error.wayOut } };
    if (isOutOfSpace(error)) return { refused: { code: 'no-space', message: '', wayOut: null } };
    throw error;
  }
}
