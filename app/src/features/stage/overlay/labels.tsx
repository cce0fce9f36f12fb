/** Names and verdict marks on the stage. The answer, the blocker and the nearest losers come first; what would overlap is left out. */
import { type Stage, type Verdict, type View, wordsOfVerdict } from '@frelk/core';
import { memo, useDeferredValue } from 'react';
import { takeFree } from '../../../drawing/boxes';
import { type P2, type P3, type Rect, toPixels } from '../../../drawing/view';
import { namingOf } from '../../../model/names';
import { useDeferredBench, useDeferredDerived } from '../../../model/use-bench';
import { markOf, toneOf } from '../../../ui/marks';
import { isWorthDrawing } from '../../ladder/there';

interface Label {
	object: string;
	stage: Stage;
	text: string;
	at: P2;
	/** Where its name stands about the mark. */
	side: Side;
	/** How much farther out than beside its mark, pixels. */
	out: number;
	strong: boolean;
}

type Side = 'right' | 'left' | 'above' | 'below';
const SIDES: readonly Side[] = ['right', 'left', 'above', 'below'];
/** Of what is in hand or chosen the name goes farther out, where its handles stand about it. */
const OUT = [0, 26, 52];

/** A name on the stage is a pointer, not a text: the ladder has all of it. */
const short = (name: string): string => (name.length > 30 ? `${name.slice(0, 29)}…` : name);

/** Pixels a name is wide. */
const widthOf = (text: string, strong: boolean): number => text.length * (strong ? 7.4 : 6.4);

/** Half of a mark. */
const MARK = 8;

/** What a name takes beside its mark, pixels. */
function boxOf([x, y]: P2, width: number, side: Side, out: number): Rect {
	const away = MARK + out;
	if (side === 'right') return { x: x + away, y: y - 8, w: width + 4, h: 16 };
	if (side === 'left') return { x: x - away - width - 4, y: y - 8, w: width + 4, h: 16 };
	return { x: x - width / 2, y: side === 'above' ? y - away - 16 : y + away, w: width, h: 16 };
}

/** Where the text of a name starts, by its side: offset and anchor. */
const TEXT: Record<Side, { x: number; y: number; anchor: 'start' | 'end' | 'middle' }> = {
	right: { x: 11, y: 4, anchor: 'start' },
	left: { x: -11, y: 4, anchor: 'end' },
	above: { x: 0, y: -MARK - 4, anchor: 'middle' },
	below: { x: 0, y: MARK + 12, anchor: 'middle' },
};

const ORDER: Record<string, number> = { selected: 0, tied: 1, choice: 3, sight: 4, range: 5, view: 6, approach: 7 };

/** Which way out of the mark a side lies. */
const WAY: Record<Side, P2> = { right: [1, 0], left: [-1, 0], above: [0, -1], below: [0, 1] };

interface LabelsProps {
	view: View;
	cutBy: string | null;
	pointed: string | null;
	picked: string | null;
	hidden: ReadonlySet<string>;
	name: (object: string) => string;
	/** Pixel rectangle labels keep out of: the eye. */
	room: Rect | null;
	/** Places in the world that names keep clear of: handles, the cursor. */
	clear: readonly P3[];
	/** What a reason says on the stage: names do not stand over it. */
	said: Rect | null;
}

/** Names follow an answer as soon as there is time for them, and the view at once. */
export const Labels = ({ cutBy, ...rest }: LabelsProps) => <Placed cutBy={useDeferredValue(cutBy)} {...rest} />;

const Placed = memo(({ view, cutBy, pointed, picked, hidden, name, room, clear, said: reason }: LabelsProps) => {
	const { world, current: answer } = useDeferredDerived();
	const naming = useDeferredBench((s) => namingOf(s.project.scene));
	const rank = (v: Verdict) =>
		v.object === pointed
			? -1
			: v.object === picked
				? 0.5
				: v.object === cutBy
					? 2
					: answer && isWorthDrawing(answer, v)
						? 8
						: (ORDER[v.stage] ?? 99);
	// Ranked once each: there may be thousands, and this runs with every move of the hand.
	const wanted: { v: Verdict; rank: number; margin: number }[] = [];
	const verdicts = answer?.verdicts ?? [];
	for (let i = 0; i < verdicts.length; i++) {
		const v = verdicts[i] as Verdict;
		const r = rank(v);
		if (r < 90 && !hidden.has(v.object)) wanted.push({ v, rank: r, margin: v.margin ?? v.met ?? 0 });
	}
	wanted.sort((a, b) => a.rank - b.rank || a.margin - b.margin);
	const placed: Label[] = [];
	const whole: Rect = { x: 0, y: 0, w: view.width, h: view.height };
	/** Names lie over nothing of these; marks, where things are, only not over each other. */
	const taken: Rect[] = [
		...(room ? [room] : []),
		...(reason ? [reason] : []),
		...clear.flatMap((place) => {
			const p = toPixels(view, place);
			return p ? [{ x: p[0] - 9, y: p[1] - 9, w: 18, h: 18 }] : [];
		}),
	];
	const marks: Rect[] = room ? [room] : [];
	for (const { v } of wanted.slice(0, 14)) {
		const object = world.objectById.get(v.object);
		if (!object) continue;
		// A floor is hit where it is hit, not in its middle.
		const hit = answer?.selected.find((s) => !s.assisted && (s.through ?? s.object) === v.object);
		const large = hit && Math.hypot(...([0, 1, 2] as const).map((k) => hit.point[k] - object.focus[k])) > 0.6;
		const at = toPixels(view, large ? hit.point : object.focus);
		if (!at || at[0] < 0 || at[1] < 8 || at[0] > view.width - 20 || at[1] > view.height - 6) continue;
		const strong = v.stage === 'selected' || v.stage === 'tied' || v.object === pointed || v.object === picked;
		const known = short(name(v.object));
		// Where there is no room for all of its name, what is chosen or tied has less of it, at last its mark alone.
		const said = v.object === pointed && v.stage !== 'selected' ? `${known}: ${wordsOfVerdict(v, naming)}` : known;
		const texts =
			v.stage === 'selected' || v.stage === 'tied'
				? [said, known.length > 13 ? `${known.slice(0, 11)}…` : known, '']
				: [said];
		const mark: Rect = { x: at[0] - MARK, y: at[1] - MARK, w: 2 * MARK, h: 2 * MARK };
		if (takeFree([mark], { x: -MARK, y: -MARK, w: view.width + 2 * MARK, h: view.height + 2 * MARK }, marks) < 0)
			continue;
		const named = texts.flatMap((text) =>
			text === '' ? [] : (strong ? OUT : [0]).flatMap((out) => SIDES.map((side) => ({ text, side, out }))),
		);
		const free = takeFree(
			named.map(({ text, side, out }) => boxOf(at, widthOf(text, strong), side, out)),
			whole,
			taken,
		);
		const found = named[free] ?? (texts.includes('') ? { text: '', side: 'right' as const, out: 0 } : null);
		if (!found) continue;
		taken.push(mark);
		placed.push({ object: v.object, stage: v.stage, at, strong, ...found });
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
						x={TEXT[label.side].x + label.out * WAY[label.side][0]}
						y={TEXT[label.side].y + label.out * WAY[label.side][1]}
						textAnchor={TEXT[label.side].anchor}
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
