import { describe, expect, test } from '@jest/globals';
import { movedPaths, pathsOf, stemOf, withPaths } from '../../src/core/index.ts';
import { kindOf } from '../helpers/arbitrary.ts';

const KIND = kindOf({ id: 'tholepin/picture', titleFrom: '$.title', files: ['$.files[*].file'], filePaths: ['$.files[*].path'], codecs: [{ path: '$.meta', codec: 'php' }] });

describe('where the files of an item lie', () => {
  test.each([
    [['2026/10/quay.jpg', '2026/10/quay-300x200.jpg'], '2026/10', 'quay'],
    [['2026/10/quay-scaled.jpg', '2026/10/quay.jpg', '2026/10/quay-150x150.jpg'], '2026/10', 'quay'],
    [['quay-scaled.jpg', 'quay-150x150.jpg'], '', 'quay'],
    [['a/b/1-.png'], 'a/b', '1'], [['x/été_1.png', 'x/été_1-30x20.png', 'elsewhere/quay.png'], 'x', 'été_1'], [['one.png', 'two.png'], '', 'one'],
  ])('%j', (paths, folder, name) => { expect(stemOf(paths)).toEqual({ folder, name }); });

  test('all of them move together, and what is called otherwise stays', () => {
    const paths = ['2026/10/quay-scaled.jpg', '2026/10/quay.jpg', '2026/10/quay-150x150.jpg', '2026/10/other.jpg', '2026/09/quay.jpg'];
    expect([...movedPaths(paths, { folder: '2026/10', name: 'quay' }, { folder: '', name: 'quay-2' })]).toEqual([['2026/10/quay-scaled.jpg', 'quay-2-scaled.jpg'], ['2026/10/quay.jpg', 'quay-2.jpg'], ['2026/10/quay-150x150.jpg', 'quay-2-150x150.jpg']]);
    expect(movedPaths(paths, { folder: '2026/10', name: 'quay' }, { folder: '2026/10', name: 'quay' }).size).toBe(0);
  });

  test('a value names them by path and by name, packed too; its title is for people', () => {
    const value = (name: string) => ({
      title: 'quay.jpg', text: 'see quay.jpg', files: [{ path: `a/${name}.jpg`, file: '0' }, { path: `a/${name}-9x9.jpg`, file: '1' }],
      meta: { '@php': { '@ordered': [['file', `a/${name}.jpg`], ['sizes', { '@ordered': [['small', { '@ordered': [['file', `${name}-9x9.jpg`]] }]] }]] } },
    });
    const paths = pathsOf(KIND, value('quay'));
    expect(paths).toEqual(['a/quay.jpg', 'a/quay-9x9.jpg']);
    expect(withPaths(KIND, value('quay'), movedPaths(paths, stemOf(paths), { folder: 'a', name: 'quay-2' }))).toEqual({ ...value('quay-2'), title: 'quay.jpg' });
  });

  test('a kind that does not say where has none', () => { expect(pathsOf(kindOf({ id: 'tholepin/plain' }), { files: [{ path: 'a.jpg' }] })).toEqual([]); });
});
