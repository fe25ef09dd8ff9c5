import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { order, planSteps, type GraphNode, type Planned } from '../../src/core/index.ts';

const graph = fc.integer({ min: 1, max: 30 }).chain((size) => fc.tuple(
  fc.array(fc.array(fc.integer({ min: 0, max: size }), { maxLength: 5 }), { minLength: size, maxLength: size }), fc.array(fc.integer({ min: 0, max: 2 }), { minLength: size, maxLength: size }),
).map(([edges, ranks]): GraphNode[] => edges.map((needs, i) => ({ name: `n${i}`, rank: ranks[i] as number, needs: needs.map((n) => `n${n}`) }))));

/** Can `from` be reached from `to` again? Then the edge lies on a circle. */
function reaches(nodes: readonly GraphNode[], from: string, to: string): boolean {
  const seen = new Set<string>();
  const open = [from];
  for (let name = open.pop(); name !== undefined; name = open.pop()) {
    if (name === to) return true;
    if (seen.has(name)) continue;
    seen.add(name);
    open.push(...(nodes.find((node) => node.name === name)?.needs ?? []));
  }
  return false;
}

describe('order', () => {
  test('respects every need outside circles, and names the deferred ones', () => {
    fc.assert(fc.property(graph, (nodes) => {
      const ordered = order(nodes);
      const place = new Map(ordered.map((one, i) => [one.name, i]));
      expect(ordered).toHaveLength(nodes.length);
      for (const node of nodes) {
        const { deferred } = ordered[place.get(node.name) as number] as { deferred: readonly string[] };
        for (const need of node.needs) {
          if (!place.has(need)) continue;
          if (deferred.includes(need)) expect(reaches(nodes, need, node.name)).toBe(true);
          else expect(place.get(need) as number).toBeLessThan(place.get(node.name) as number);
        }
      }
    }), { numRuns: 500 });
  });

  test('what is needed firmly always comes before, however the circles run', () => {
    fc.assert(fc.property(graph, (nodes) => {
      // A node can be firm about those before it only, so that firm needs make no circle.
      const firm = nodes.map((node, i) => ({ ...node, firm: node.needs.filter((need) => Number(need.slice(1)) < i) }));
      const ordered = order(firm);
      const place = new Map(ordered.map((one, i) => [one.name, i]));
      for (const node of firm) for (const need of node.firm) expect(place.get(need) as number).toBeLessThan(place.get(node.name) as number);
      for (const { name, deferred } of ordered) for (const need of deferred) expect(reaches(nodes, need, name)).toBe(true);
    }), { numRuns: 500 });
  });

  test('is the same for any order of the input', () => {
    fc.assert(fc.property(graph.chain((nodes) => fc.tuple(fc.constant(nodes), fc.shuffledSubarray(nodes, { minLength: nodes.length }))), ([nodes, shuffled]) => {
      expect(order(shuffled)).toEqual(order(nodes));
    }));
  });

  test('does not recurse: a chain of 100,000 is ordered', () => {
    const chain = Array.from({ length: 100_000 }, (_, i): GraphNode => ({ name: String(i).padStart(6, '0'), rank: 1, needs: [String(i + 1).padStart(6, '0')] }));
    const ordered = order(chain);
    expect(ordered[0]?.name).toBe('099999');
    expect(ordered.at(-1)?.level).toBe(99_999);
  });

  test('only two small circles: everything else keeps its order', () => {
    const node = (name: string, ...needs: string[]): GraphNode => ({ name, rank: 1, needs });
    const ordered = order([node('a', 'b'), node('b', 'a'), node('c', 'd'), node('d'), node('e', 'a')]);
    expect(ordered.flatMap((one) => one.deferred.map((to) => `${one.name}>${to}`))).toEqual(['b>a']);
    expect(ordered.map((one) => one.name).indexOf('d')).toBeLessThan(ordered.map((one) => one.name).indexOf('c'));
  });
});

describe('steps', () => {
  const item = (address: string, needs: string[], action: 'create' | 'update' = 'create', rank = 1): Planned => ({ address, kind: 'x/y', title: address, covers: 'all', rank, action, needs, firm: [], inside: [], files: [], fingerprint: '0' });

  test('only creations force an order; each step says which later ones use it', () => {
    const steps = planSteps([item('listing:b', ['format:a']), item('format:a', ['media:m']), item('media:m', [], 'update', 9)], []);
    expect(steps.map((step) => `${step.do} ${'item' in step ? step.item : ''}`)).toEqual(['create format:a', 'create listing:b', 'update media:m']);
    expect(steps[0]).toMatchObject({ step: 1, before: [{ step: 2, item: 'listing:b' }] });
  });

  test('a circle is created without the reference that closes it, and completed at the end', () => {
    const steps = planSteps([item('t:summer', ['t:winter']), item('t:winter', ['t:summer'])], [{ digest: 'f'.repeat(64), type: 'image/png', bytes: 3 }]);
    expect(steps.map((step) => step.do)).toEqual(['upload', 'create', 'create', 'complete']);
    expect(steps[1]).toMatchObject({ item: 't:winter', deferred: ['t:summer'] });
    expect(steps[3]).toMatchObject({ item: 't:winter', refersTo: ['t:summer'], step: 4 });
  });

  test('of two that refer to each other the one that is named after the other comes second', () => {
    const steps = planSteps([item('t:a', ['t:a/b']), item('t:a/b', ['t:a'])], []);
    expect(steps.map((step) => ('item' in step ? [step.do, step.item] : []))).toEqual([['create', 't:a'], ['create', 't:a/b'], ['complete', 't:a']]);
  });

  test('what refers to itself is a circle of one: its id is known only when it is there', () => {
    expect(planSteps([item('t:a', ['t:a'])], []).map((step) => [step.do, 'deferred' in step ? step.deferred : step.do === 'complete' ? step.refersTo : []])).toEqual([['create', ['t:a']], ['complete', ['t:a']]]);
    expect(planSteps([item('t:a', ['t:a'], 'update')], [])).toHaveLength(1);
  });
});
