import { describe, expect, it } from 'vitest';
import { modulesOfViews } from './view-modules';

describe('the code of the views', () => {
	it('is each view and what it imports, once', () => {
		const told = {
			version: '1',
			routes: {
				root: { module: '/assets/root.js' },
				'routes/bench': { id: 'routes/bench', module: '/assets/bench.js', imports: ['/assets/a.js', '/assets/b.js'] },
				'routes/checks': { module: '/assets/checks.js', imports: ['/assets/b.js'] },
				'routes/guide': { module: '/assets/guide.js' },
			},
		};
		expect(modulesOfViews(told)).toEqual(['/assets/bench.js', '/assets/a.js', '/assets/b.js', '/assets/checks.js']);
	});

	it.each([undefined, null, {}, { routes: null }, { routes: { 'routes/bench': {} } }])(
		'is nothing where it is not told: %j',
		(told) => {
			expect(modulesOfViews(told)).toEqual([]);
		},
	);
});
