/** Whether what is asked for may stand there: in words, how deep it sticks in what, what bears it, and the least way out. */
import { type Answer, FELT, hasRoom, metres, type Vec3 } from '@frelk/core';
import { nameOf } from '../../model/names';
import { queryIn, useBenchStore, useDeferredBench, useDeferredDerived } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { moveAsked } from '../edit/acts';
import { dropOfSpot } from '../edit/standing';
import { useQueryGeometry } from '../stage/overlay/geometry';

export function RoomAnswer({ answer }: { answer: Answer }) {
	const store = useBenchStore();
	const project = useDeferredBench((s) => s.project);
	const { world } = useDeferredDerived();
	const geometry = useQueryGeometry(world, useDeferredBench(queryIn), answer);
	const spot = geometry?.spot ?? null;
	const { room } = answer;
	if (!room) return null;
	const at = geometry?.query.kind === 'overlap' ? geometry.query.at : {};
	// What is asked at a camera or at a hit stands where that is: it is not moved from here.
	const moves = at.object !== undefined || at.focus !== undefined || at.point !== undefined;
	const name = (id: string) => nameOf(project, 'object', id);
	const deepest = [...answer.selected].sort((a, b) => (b.depth ?? 0) - (a.depth ?? 0));
	const length = (v: Vec3) => Math.hypot(...v);
	const down =
		room.free && room.of !== undefined && room.bears === 0 && spot
			? dropOfSpot(world, spot.points, geometry?.query.asker)
			: null;
	return (
		<>
			<p className="text-[15px] font-semibold">{hasRoom(answer) ? 'There is room' : 'There is no room'}</p>
			{room.free && <p className="mt-0.5">Nothing is in the way.</p>}
			{deepest.length > 0 && (
				<ul>
					{deepest.map((s) => (
						<li key={s.through ?? s.object}>
							<button
								type="button"
								className="flex min-h-6 w-full items-center gap-2 text-left"
								onPointerEnter={() => store.getState().point(s.through ?? s.object)}
								onPointerLeave={() => store.getState().point(null)}
								onClick={() => store.getState().pick(s.object)}
							>
								<Mark stage="sight" size={12} />
								<span className="min-w-0 [overflow-wrap:anywhere]">{name(s.object)} is in the way</span>
								<span className="figure ml-auto whitespace-nowrap text-[12.5px] text-quiet">
									{s.depth && s.depth >= FELT ? `${metres(s.depth)} deep` : 'touches'}
								</span>
							</button>
						</li>
					))}
				</ul>
			)}
			{room.of !== undefined && (
				<p className={room.bears === room.of ? '' : 'text-cut'}>
					{room.bears === room.of
						? 'It is borne everywhere: '
						: room.bears === 0
							? 'Nothing bears it: '
							: 'Part of it hangs over: '}
					{room.bears} of {room.of} points.
				</p>
			)}
			{spot?.way && (
				<p className="mt-1 flex flex-wrap items-center gap-2">
					<span>Least way out: {metres(length(spot.way))}</span>
					{moves && <Button onClick={() => moveAsked(store, 'Move it out', spot.way as Vec3)}>Move it out</Button>}
				</p>
			)}
			{down !== null && (
				<p className="mt-1 flex flex-wrap items-center gap-2">
					<span>
						{metres(Math.abs(down))} {down < 0 ? 'above' : 'below'} what could bear it
					</span>
					{moves && <Button onClick={() => moveAsked(store, 'Set it down', [0, down, 0])}>Set it down</Button>}
				</p>
			)}
		</>
	);
}
