import { beforeEach, expect, it } from 'vitest';
import { beginMove, endMove, measured } from './timing';

const names = (name: string) => performance.getEntriesByName(name);
beforeEach(() => performance.clearMeasures());

it('measures from the hand’s move to the page’s change, once for each move', () => {
	endMove();
	expect(names('frelk-move')).toHaveLength(0);
	beginMove();
	endMove();
	endMove();
	expect(names('frelk-move')).toHaveLength(1);
	expect(names('frelk-move')[0]?.duration).toBeGreaterThanOrEqual(0);
});

it('does not fill the timeline however long one works', () => {
	for (let i = 0; i < 5000; i++) measured('frelk-draw', performance.now());
	expect(names('frelk-draw').length).toBeGreaterThan(0);
	expect(names('frelk-draw').length).toBeLessThanOrEqual(2000);
});
