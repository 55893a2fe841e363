import type { InkLook } from './ink';
import { nameColor } from './name-color';
import type { Reframed } from './reframe';

/** One sentence that says why the picture is taken for ink and what is done. */
export function explainInk({ light }: InkLook, { cut, straightened, cropped }: Reframed): string {
  const { red, green, blue } = light.paper;
  const paper = nameColor({
    red: Math.round(red),
    green: Math.round(green),
    blue: Math.round(blue),
  }).toLowerCase();
  const { prepare } = cut;
  const parts = [`Ink on ${paper} paper${prepare.flatten > 0 ? ', its uneven light flattened' : ''}`];
  if (prepare.corners) parts.push('the sheet squared up');
  if (prepare.removeRules) parts.push('ruled lines removed');
  if (prepare.calm > 0) parts.push('grain calmed');
  if (straightened) parts.push(`straightened by ${prepare.straightenDeg}°`);
  if (cropped) parts.push('cropped to the writing');
  parts.push(`read from ${CHANNEL_WORDS[cut.clear.ink!.channel]}`);
  return `${parts.join('; ')}.`;
}

const CHANNEL_WORDS = {
  luminance: 'luminance',
  red: 'the red channel',
  green: 'the green channel',
  blue: 'the blue channel',
  'red-green': 'red against green',
  'yellow-blue': 'yellow against blue',
} as const;
