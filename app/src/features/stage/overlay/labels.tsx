/** Names and verdict marks on the stage. The answer, the blocker and the nearest losers come first; what would overlap is left out. */
import { type Stage, type Verdict, type View, wordsOfVerdict } from '@frelk/core';
import { memo, useDeferredValue } from 'react';
import { type P2, toPixels } from '../../../drawing/view';
import { useDeferredDerived } from '../../../model/use-bench';
import { markOf, toneOf } from '../../../ui/marks';

interface Label {
	object: string;
	stage: Stage;
	text: string;
	at: P2;
	strong: boolean;
}

/** A name on the stage is a pointer, not a text: the ladder has all of it. */
const short = (name: string): string => (name.length > 30 ? `${name.slice(0, 29)}…` : name);

/** Pixels a label takes, its mark included. */
const widthOf = (text: string, strong: boolean): number => 18 + text.length * (strong ? 7.4 : 6.4);

const ORDER: Record<string, number> = { selected: 0, tied: 1, choice: 3, sight: 4, range: 5, view: 6, approach: 7 };

interface LabelsProps {
	view: View;
	cutBy: string | null;
	pointed: string | null;
	picked: string | null;
	hidden: ReadonlySet<string>;
	name: (object: string) => string;
	/** Pixel rectangle labels keep out of: the eye. */
	room: { x: number; y: number; w: number; h: number } | null;
}

/** Names follow an answer as soon as there is time for them, and the view at once. */
export const Labels = ({ cutBy, ...rest }: LabelsProps) => <Placed cutBy={useDeferredValue(cutBy)} {...rest} />;

const Placed = memo(({ view, cutBy, pointed, picked, hidden, name, room }: LabelsProps) => {
	const { world, current: answer } = useDeferredDerived();
	const rank = (v: Verdict) =>
		v.object === pointed ? -1 : v.object === picked ? 0.5 : v.object === cutBy ? 2 : (ORDER[v.stage] ?? 99);
	// Ranked once each: there may be thousands, and this runs with every move of the hand.
	const wanted: { v: Verdict; rank: number; margin: number }[] = [];
	const verdicts = answer?.verdicts ?? [];
	for (let i = 0; i < verdicts.length; i++) {
		const v = verdicts[i] as Verdict;
		const r = rank(v);
		if (r < 90 && !hidden.has(v.object)) wanted.push({ v, rank: r, margin: v.margin ?? 0 });
	}
	wanted.sort((a, b) => a.rank - b.rank || a.margin - b.margin);
	const placed: Label[] = [];
	const taken = (at: P2, width: number): boolean => {
		const hits = (x: number, y: number, w: number, h: number) =>
			at[0] < x + w && at[0] + width > x && at[1] - 9 < y + h && at[1] + 9 > y;
		return (
			placed.some((p) => hits(p.at[0], p.at[1] - 9, widthOf(p.text, p.strong), 18)) ||
			(room !== null && hits(room.x, room.y, room.w, room.h))
		);
	};
	for (const { v } of wanted.slice(0, 14)) {
		const object = world.objectById.get(v.object);
		if (!object) continue;
		// A floor is hit where it is hit, not in its middle.
		const hit = answer?.selected.find((s) => !s.assisted && (s.through ?? s.object) === v.object);
		const large = hit && Math.hypot(...([0, 1, 2] as const).map((k) => hit.point[k] - object.focus[k])) > 0.6;
		const at = toPixels(view, large ? hit.point : object.focus);
		if (!at || at[0] < 0 || at[1] < 8 || at[0] > view.width - 20 || at[1] > view.height - 6) continue;
		const strong = v.stage === 'selected' || v.stage === 'tied' || v.object === pointed || v.object === picked;
		const whole = short(name(v.object));
		// Where there is no room for all of its name, what is chosen or tied has less of it, at last its mark alone.
		const said =
			v.object === pointed && v.stage !== 'selected' ? `${whole}: ${wordsOfVerdict(v, (_k, id) => name(id))}` : whole;
		const texts =
			v.stage === 'selected' || v.stage === 'tied'
				? [said, whole.length > 13 ? `${whole.slice(0, 11)}…` : whole, '']
				: [said];
		const text = texts.find((t) => !taken(at, widthOf(t, strong)));
		if (text === undefined) continue;
		placed.push({ object: v.object, stage: v.stage, text, at, strong });
	}
	return (
		<g aria-hidden="true">
			{placed.map((label) => (
				<g key={label.object} transform={`translate(${label.at[0].toFixed(1)} ${label.at[1].toFixed(1)})`}>
					<g transform="translate(-6 -6)" style={{ color: `var(--${toneOf(label.stage)})` }} stroke="none">
						<rect x="-1.5" y="-1.5" width="15" height="15" rx="2" fill="var(--ground)" opacity="0.75" />
						{markOf(label.stage)}
					</g>
					<text
						x="11"
						y="4"
						fontSize={label.strong ? 13 : 11.5}
						fontWeight={label.strong ? 650 : 450}
						fill={label.strong ? 'var(--ink)' : 'var(--quiet)'}
						stroke="var(--ground)"
						strokeWidth="3"
						paintOrder="stroke"
					>
						{label.text}
					</text>
				</g>
			))}
		</g>
	);
});
