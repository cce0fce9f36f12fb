/** A rose of headings: one is chosen, or the best of all. */
import { useRef } from 'react';

const SIZE = 84;
const MIDDLE = SIZE / 2;

/** Spokes that can be told apart by hand; with more headings, every second or fourth has one. */
const MOST = 24;

export function Rose({
	headings,
	heading,
	choose,
	own,
}: {
	headings: number;
	/** Null for the best of all. */
	heading: number | null;
	choose: (heading: number | null) => void;
	/** Where the first heading points, as the asker stands: degrees from the right of the rose, against the clock. */
	own: number;
}) {
	const group = useRef<HTMLDivElement>(null);
	const every = Math.ceil(headings / MOST);
	const spokes = Array.from({ length: Math.ceil(headings / every) }, (_, i) => i * every);
	const angle = (k: number) => ((360 * k) / headings + own) * (Math.PI / 180);
	const degrees = (k: number) => `${Number(((360 * k) / headings).toFixed(1))}°`;
	const move = (by: number) => {
		const order: (number | null)[] = [null, ...spokes];
		const next = order[(order.indexOf(heading) + by + order.length) % order.length] as number | null;
		choose(next);
		group.current?.querySelector<SVGGElement>(`[data-heading="${next ?? 'best'}"]`)?.focus();
	};
	const option = (value: number | null, label: string) => ({
		role: 'radio',
		'aria-checked': heading === value,
		'aria-label': label,
		'data-heading': value ?? 'best',
		tabIndex: heading === value ? 0 : -1,
		className: 'cursor-pointer outline-none focus-visible:[&>*]:stroke-[3]',
		onClick: () => choose(value),
	});
	return (
		<div
			ref={group}
			role="radiogroup"
			aria-label="Heading"
			tabIndex={-1}
			onKeyDown={(event) => {
				const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
				if (by === undefined) return;
				event.preventDefault();
				event.stopPropagation();
				move(by);
			}}
		>
			<svg width={SIZE} height={SIZE}>
				<title>Turned from how the asker stands</title>
				<circle cx={MIDDLE} cy={MIDDLE} r={MIDDLE - 3} fill="none" stroke="var(--line)" />
				{spokes.map((k) => {
					const [c, s] = [Math.cos(angle(k)), -Math.sin(angle(k))];
					const on = heading === k;
					return (
						<g key={k} {...option(k, k === 0 ? 'as it stands' : `turned by ${degrees(k)}`)}>
							<path
								d={`M${MIDDLE + 17 * c} ${MIDDLE + 17 * s}L${MIDDLE + (MIDDLE - 5) * c} ${MIDDLE + (MIDDLE - 5) * s}`}
								stroke="transparent"
								strokeWidth="12"
							/>
							<path
								d={`M${MIDDLE + 20 * c} ${MIDDLE + 20 * s}L${MIDDLE + (MIDDLE - 5) * c} ${MIDDLE + (MIDDLE - 5) * s}`}
								stroke={on ? 'var(--chosen)' : 'var(--ink)'}
								strokeWidth={on ? 4 : 1.5}
							/>
						</g>
					);
				})}
				<g {...option(null, 'best of all headings')}>
					<circle
						cx={MIDDLE}
						cy={MIDDLE}
						r="15"
						fill={heading === null ? 'var(--chosen)' : 'var(--panel)'}
						stroke="var(--ink)"
					/>
					<text
						x={MIDDLE}
						y={MIDDLE + 3.5}
						textAnchor="middle"
						fontSize="10"
						fill={heading === null ? 'var(--panel)' : 'var(--ink)'}
					>
						{heading === null ? 'best' : degrees(heading)}
					</text>
				</g>
			</svg>
		</div>
	);
}
