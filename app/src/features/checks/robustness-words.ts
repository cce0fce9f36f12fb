/** How far a check withstands a perturbation, in words. */
import type { Project, RobustnessMargin } from '@frelk/core';

const PERTURBATIONS = { cursor: 'cursor moved', aim: 'aim turned', asker: 'asker moved' } as const;

/** A length that says no more than a hand can do. */
export const marginWords = (f: RobustnessMargin): string =>
	f.least === null
		? `${PERTURBATIONS[f.perturbation]}: holds up to ${f.most} ${f.unit}`
		: `${PERTURBATIONS[f.perturbation]} ${Number(f.least.toPrecision(2))} ${f.unit}`;

/** Which way a perturbation goes, in words. */
export function wayWords(project: Project, f: RobustnessMargin): string {
	const [u, v] = [f.way[0] ?? 0, f.way[1] ?? 0];
	const flat = project.scene.kind === 'flat';
	const strong = (a: number) => Math.abs(a) > 0.38;
	const names: [string, string, string, string] =
		f.perturbation === 'cursor'
			? ['right', 'left', 'down', 'up']
			: f.perturbation === 'aim'
				? ['left', 'right', 'up', 'down']
				: flat
					? ['+X', '−X', '+Y', '−Y']
					: ['+X', '−X', '+Z', '−Z'];
	return [strong(v) ? (v > 0 ? names[2] : names[3]) : '', strong(u) ? (u > 0 ? names[0] : names[1]) : '']
		.filter((w) => w !== '')
		.join(' and ');
}
