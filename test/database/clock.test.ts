import { describe, expect, test } from '@jest/globals';
import { Clock, utcTime } from '../../src/sites/database/clock.ts';

describe('times of new rows', () => {
  const summer = '2026-07-01T22:30:00.000Z';
  const winter = '2026-01-05T04:30:00Z';

  test.each([
    ['Europe/Oslo', summer, '2026-07-02 00:30:00'], ['Europe/Oslo', winter, '2026-01-05 05:30:00'], ['5.5', winter, '2026-01-05 10:00:00'],
    ['-3', summer, '2026-07-01 19:30:00'], ['0', summer, '2026-07-01 22:30:00'], ['UTC', winter, '2026-01-05 04:30:00'],
  ])('%s at %s', (zone, created, local) => {
    const clock = new Clock(zone);
    expect(clock.word('created', created)).toBe(local);
    expect(clock.word('created utc', created)).toBe(created.slice(0, 19).replace('T', ' '));
    expect(clock.word('created seconds', created)).toBe(String(Date.parse(created) / 1000));
  });

  test('where nobody says when, or it is no time, it is now; other words are none of its own', () => {
    const clock = new Clock('no/such-zone');
    for (const created of [undefined, '2026-13-45T99:99:99Z', 'yesterday']) expect(Math.abs(Date.parse(`${clock.word('created utc', created)?.replace(' ', 'T') ?? ''}Z`) - Date.now())).toBeLessThan(10_000);
    expect(clock.word('now seconds', winter)).toBe(clock.word('created seconds', undefined));
    expect(['uuid', 'now and then', 'created by'].map((word) => clock.word(word, winter))).toEqual([undefined, undefined, undefined]);
  });

  test.each([
    ['2026-03-01 06:30:00', '2026-03-01T06:30:00.000Z'], ['2026-03-31 06:30:00.250', '2026-03-31T06:30:00.250Z'], ['1772346600', '2026-03-01T06:30:00.000Z'],
    ['0000-00-00 00:00:00', undefined], ['2026-02-31 25:00:00', undefined], ['', undefined], [null, undefined], ['+275760-01-01T00:00:00Z', undefined],
  ])('%s is read as %s', (text, time) => { expect(utcTime(text)).toBe(time); });
});
