/** Verdict marks: a shape, a tone and a word together, so that a verdict reads without colour. */
import type { Stage } from '@frelk/core';

export type Tone = 'chosen' | 'tie' | 'outranked' | 'cut' | 'short' | 'quiet';

/** The tone of each stage. */
export function toneOf(stage: Stage): Tone {
	switch (stage) {
		case 'selected':
			return 'chosen';
		case 'tied':
			return 'tie';
		case 'choice':
			return 'outranked';
		case 'sight':
			return 'cut';
		case 'range':
		case 'view':
		case 'approach':
			return 'short';
		default:
			return 'quiet';
	}
}

const LOZENGE = 'M6 1 L11 6 L6 11 L1 6 Z';

/** The mark's drawing in a 12 × 12 box, without its colour. */
export function markOf(stage: Stage): React.ReactNode {
	switch (toneOf(stage)) {
		case 'chosen':
			return <path d={LOZENGE} fill="currentColor" />;
		case 'tie':
			return (
				<>
					<path d="M4.2 2 L8.2 6 L4.2 10 L0.6 6 Z" fill="none" stroke="currentColor" strokeWidth="1.5" />
					<path d="M7.8 2 L11.4 6 L7.8 10 L3.8 6 Z" fill="none" stroke="currentColor" strokeWidth="1.5" />
				</>
			);
		case 'outranked':
			return <path d={LOZENGE} fill="none" stroke="currentColor" strokeWidth="1.5" />;
		case 'cut':
			return (
				<>
					<path d={LOZENGE} fill="none" stroke="currentColor" strokeWidth="1.2" />
					<path d="M6 0 V12" stroke="currentColor" strokeWidth="2.2" />
				</>
			);
		case 'short':
			return <circle cx="6" cy="6" r="4" fill="none" stroke="currentColor" strokeWidth="1.6" />;
		default:
			return stage === 'touch' ? (
				<circle cx="6" cy="6" r="2" fill="currentColor" />
			) : (
				<path d="M2 6 H10" stroke="currentColor" strokeWidth="1.8" />
			);
	}
}

export function Mark({ stage, size = 12 }: { stage: Stage; size?: number }) {
	return (
		<svg
			viewBox="0 0 12 12"
			width={size}
			height={size}
			aria-hidden="true"
			className="shrink-0"
			style={{ color: `var(--${toneOf(stage)})` }}
		>
			{markOf(stage)}
		</svg>
	);
}
