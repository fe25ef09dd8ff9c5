import { pluralsOf, wordsOf } from './words.ts';

/** Words in a name that say that its number is a measure: how many, how large, how long, when, in which place or way. */
const WORDS = [
  'count', 'per', 'number', 'num', 'numberposts', 'total', 'amount', 'max', 'min', 'limit', 'quantity', 'qty', 'stock', 'seat', 'point', 'score', 'rating', 'view', 'visit', 'hit', 'download', 'submission', 'price', 'fee', 'cost', 'show', 'shown',
  'capacity', 'quota', 'threshold', 'tax', 'rate', 'discount', 'attempt', 'retry', 'batch', 'decimal', 'digit', 'word', 'char', 'character', 'excerpt', 'precision', 'guest', 'adult', 'night',
  'size', 'width', 'height', 'length', 'depth', 'weight', 'bytes', 'ratio', 'radius', 'border', 'padding', 'margin', 'gap', 'spacing', 'space', 'offset', 'column', 'col', 'row', 'range',
  'top', 'bottom', 'gutter', 'thickness', 'stroke', 'shadow', 'dpi', 'fps', 'bitrate', 'lat', 'lng', 'latitude', 'longitude',
  'frequency', 'lifetime', 'ttl', 'cache', 'buffer', 'idle', 'inactivity', 'cooldown', 'retention', 'speed', 'delay', 'duration', 'timeout', 'interval', 'second', 'minute', 'hour', 'day', 'week', 'month', 'year', 'time', 'date', 'age', 'expiry', 'start', 'end', 'before', 'after',
  'order', 'orderby', 'sort', 'position', 'index', 'zindex', 'level', 'priority', 'step', 'version', 'align', 'angle', 'rotation', 'scale', 'zoom', 'blur', 'volume', 'fade', 'overlay', 'intensity', 'strength', 'brightness', 'contrast', 'saturation', 'hue', 'opacity', 'quality', 'percent', 'percentage', 'scroll', 'breakpoint', 'screen',
  'type', 'title', 'text', 'label', 'url', 'slug', 'class', 'color', 'colour', 'style', 'layout', 'format', 'status', 'mode', 'enabled', 'visible', 'code', 'port', 'phone', 'tab', 'slot', 'font', 'line', 'letter',
  'setting', 'options', 'config', 'configuration',
];
/** Units, behind what is measured; before it they are what an extension calls its own. */
const UNITS: ReadonlySet<string> = new Set(['mb', 'kb', 'px', 'em', 'x', 'y', 'w', 'h']);
const MEASURES: ReadonlySet<string> = new Set(WORDS.flatMap((word) => [word, ...pluralsOf(word)]));

/** In names of lists that are of measures, whatever in them is an id by chance; an order or steps may well be of ids. */
const SIZES = /size|padding|margin|width|height|breakpoint|amount|range|price|year|day|hour|limit|(?<!ac)count(?!ry)|frequency|priority|quota|duration|delay/i;
export function areSizes(name: string): boolean { return SIZES.test(name); }

/** Of several things it was done with, as in "pages_seen", it says how many. */
const DONE = /s[_-]?(?:seen|viewed|visited|read|sold|sent|opened|clicked|booked|finished)$/i;

/** Has a name such a word? */
export function isMeasure(name: string): boolean {
  if (DONE.test(name)) return true;
  const words = wordsOf(name);
  return UNITS.has(words.findLast((word) => word !== '') ?? '') || words.some((word) => MEASURES.has(word));
}
