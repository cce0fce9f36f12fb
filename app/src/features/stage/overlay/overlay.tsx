/** What is drawn over the shapes: the open query with why, what another view lays over it, what is in hand, names, measures. */
import { useCallback, useMemo } from 'react';
import { type P3, pathOf } from '../../../drawing/view';
import { verdictOn } from '../../../model/derived';
import { namesOf } from '../../../model/names';
import { useBench, useDerived } from '../../../model/use-bench';
import { Drawing, type Pending } from '../draw';
import type { Handle } from '../handles/handles';
import type { StageView } from '../use-stage-view';
import { AsItWas } from './as-it-was';
import { FlatGrid } from './flat-grid';
import type { QueryGeometry } from './geometry';
import { HandDrawing } from './hand-drawing';
import { Labels } from './labels';
import { QueryDrawing } from './query-drawing';
import { reasonOf, wordsBox } from './reason';
import { Measured, Ruler } from './ruler';

interface Given {
	stage: StageView;
	geometry: QueryGeometry | null;
	/** Objects that are put away. */
	hidden: ReadonlySet<string>;
	/** Names keep clear of them. */
	handles: readonly Handle[];
	/** What is being drawn with the tool in hand. */
	stroke: Pending | null;
	/** A way and single lines of another view. */
	way?: readonly P3[];
	lines?: readonly (readonly [P3, P3])[];
}

export function Overlay({ stage, geometry, hidden, handles, stroke, way, lines }: Given) {
	const { world, current, touched } = useDerived();
	const picked = useBench((s) => s.picked);
	const selection = useBench((s) => s.selection);
	const pointed = useBench((s) => s.pointed);
	const tool = useBench((s) => s.tool);
	const swing = useBench((s) => s.swing);
	const project = useBench((s) => s.project);
	const moment = useBench((s) => s.moment);
	const preview = useBench((s) => s.preview);
	const firm = useBench((s) => (s.firm !== null && s.firm.query === s.query ? s.firm.margins : null));
	const names = useBench((s) => namesOf(s.project.scene.objects));
	const { view, pose, own, room, clip } = stage;
	const verdict = pointed === null ? undefined : verdictOn(world, current, pointed);
	const reason = useMemo(
		() => (geometry && current && verdict ? reasonOf(world, geometry, current, verdict, touched) : null),
		[world, geometry, current, verdict, touched],
	);
	const name = useCallback((id: string) => names.get(id) ?? id, [names]);
	const said = useMemo(() => (reason ? wordsBox(reason, view) : null), [reason, view]);
	const clear = useMemo(() => handles.map((handle) => handle.at), [handles]);
	return (
		<svg
			className="pointer-events-none absolute inset-0 size-full"
			aria-hidden="true"
			style={clip ? { clipPath: clip } : undefined}
		>
			{world.flat && <FlatGrid view={view} perPixel={(2 * pose.distance) / Math.max(1, own.h)} />}
			{geometry && (
				<QueryDrawing
					geometry={geometry}
					view={view}
					answer={current}
					world={world}
					reason={reason}
					firm={firm}
					swing={swing}
				/>
			)}
			{way && <path d={pathOf(view, way)} fill="none" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray="6 3" />}
			{lines && (
				<path d={lines.map((line) => pathOf(view, line)).join('')} fill="none" stroke="var(--ink)" strokeWidth="0.8" />
			)}
			{preview && <AsItWas project={project} moment={moment} preview={preview} world={world} view={view} />}
			<HandDrawing world={world} view={view} selection={selection} picked={picked} />
			<Labels
				view={view}
				cutBy={geometry?.cutBy ?? null}
				pointed={pointed}
				picked={picked}
				hidden={hidden}
				name={name}
				room={room}
				clear={clear}
				said={said}
			/>
			{tool && stroke && <Drawing pending={stroke} tool={tool} view={view} flat={world.flat} />}
			{tool?.kind === 'measure' && <Measured stroke={stroke} view={view} flat={world.flat} />}
			{!stage.large && <Ruler view={view} pose={pose} flat={world.flat} />}
		</svg>
	);
}
