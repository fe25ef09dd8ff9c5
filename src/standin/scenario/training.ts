import { OWN_ADDRESS as HERE, type SiteName } from './names.ts';
import type { Records } from './records.ts';

/** The Lamp Room: courses and quizzes for the crew, and who may see what. */
export function training(records: Records, name: SiteName): void {
  if (name === 'old') return;
  const id = (address: string): number => records.id(address);
  const dev = name === 'dev';
  records.add('lamp-room/access-level', 'islanders', { label: 'Islanders', role: 'clerk', pages: [id('page:fares'), id('page:timetable')], beyond: id('page:contact') });
  records.add('lamp-room/settings', 'lamp-room', { label: 'Lamp Room', option: JSON.stringify({ licence: `lamp-${name}-0042`, pages: { start: id('page:home'), done: id('page:thank-you') }, levels: [id('access-level:islanders')], colour: dev ? '#b8442e' : '#2c7a92' }) });
  if (!dev) return;
  records.add('lamp-room/access-level', 'deck-crew', { label: 'Deck crew', role: 'crew', pages: [id('page:timetable')], beyond: id('page:contact') });
  quizzes(records);
  const lesson = (key: string, title: string, markup: string, quiz = 0): object => ({ id: records.own(), key, title, markup, quiz, minutes: 10 });
  records.add('lamp-room/course', 'knots', { title: 'Knots and lines', author: id('person:office@skerrin.example'), picture: 0, before: [], level: id('access-level:deck-crew'), lessons: [lesson('bowline', 'The bowline', `<p>Practise on the <a href="${HERE}/contact/">pier</a>.</p>`), lesson('mooring', 'Mooring', '<p>Two lines, then a third.</p>', id('quiz:knots'))] });
  records.add('lamp-room/course', 'bad-weather', { title: 'Bad weather', author: id('person:morag@skerrin.example'), picture: id('media:gale-flag'), before: [id('course:knots')], level: id('access-level:deck-crew'), lessons: [lesson('signs', 'Signs in the sky', `<img src="${HERE}/uploads/${id('media:gale-flag')}/gale-flag.png" data-media="${id('media:gale-flag')}" alt="Gale flag">`), lesson('calls', 'Calls to passengers', '<p>Calm, short, twice.</p>', id('quiz:weather'))] });
}

function quizzes(records: Records): void {
  const id = (address: string): number => records.id(address);
  const question = (key: string, text: string, points: number, answers: readonly (readonly [string, string, boolean])[]): object =>
    ({ id: records.own(), key, text, points, picture: 0, answers: answers.map(([name, label, right]) => ({ id: records.own(), key: name, label, right })) });
  records.add('lamp-room/quiz', 'knots', { title: 'Knots', author: id('person:office@skerrin.example'), pass: 2, certificate: true, grades: { good: 3, fair: 2 }, tries: 8, questions: [
    question('loop', '<p>Which knot makes a loop that does not slip?</p>', 2, [['bowline', 'Bowline', true], ['hitch', 'Half hitch', false]]),
    question('lines', '<p>How many lines hold the Marl?</p>', 1, [['two', 'Two', false], ['three', 'Three', true], ['four', 'Four', false]]),
  ] });
  records.add('lamp-room/quiz', 'weather', { title: 'Weather', author: id('person:morag@skerrin.example'), pass: 1, certificate: false, grades: {}, tries: 0, questions: [
    question('flag', `<p>What does <a href="${HERE}/timetable/">this flag</a> mean?</p>`, 1, [['gale', 'Gale', true], ['soup', 'Soup is ready', false]]),
  ] });
}
