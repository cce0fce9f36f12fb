/** A page that is left stays left, whatever the router makes of parts that no longer come. */
import { describe, expect, it } from 'vitest';
import { goWhereOneWent } from './leaving';

describe('a page that is left', () => {
	const opened = () => {
		const page = Object.assign(new EventTarget(), { navigation: new EventTarget() });
		const clock = { now: 0 };
		goWhereOneWent(page, () => clock.now);
		return {
			clock,
			leave: () => page.dispatchEvent(new Event('beforeunload')),
			/** @returns whether it goes on */
			navigate: (navigationType: string, userInitiated = false) =>
				page.navigation.dispatchEvent(
					Object.assign(new Event('navigate', { cancelable: true }), { navigationType, userInitiated }),
				),
		};
	};

	it('is not reloaded by itself', () => {
		const { leave, navigate } = opened();
		expect(navigate('reload')).toBe(true);
		leave();
		expect(navigate('reload')).toBe(false);
	});

	it('is reloaded where a person asks for it, and goes elsewhere', () => {
		const { leave, navigate } = opened();
		leave();
		expect(navigate('reload', true)).toBe(true);
		expect(navigate('push')).toBe(true);
	});

	it('and is still there a while after may reload', () => {
		const { clock, leave, navigate } = opened();
		leave();
		clock.now = 10_001;
		expect(navigate('reload')).toBe(true);
	});

	it('is left as it is where the browser tells of no navigation', () => {
		expect(() => goWhereOneWent(new EventTarget())).not.toThrow();
	});
});
