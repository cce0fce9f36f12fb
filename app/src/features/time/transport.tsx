/** Above the lanes: step, play, loop and record. */
import type { Run } from '@frelk/core';
import { Circle, Pause, Play, Repeat, Square, StepBack, StepForward } from 'lucide-react';
import { Button, Select } from '../../ui/controls';
import type { Clock } from './clock';

export const seconds = (t: number): string => `${Number(t.toFixed(3))} s`;

export function Transport({
	run,
	end,
	clock,
	recording,
	onRecord,
	onStop,
}: {
	run: Run;
	/** Seconds. */
	end: number;
	clock: Clock;
	recording: boolean;
	onRecord: () => void;
	onStop: () => void;
}) {
	const { at, running, loop } = clock;
	const step = (by: number) => {
		clock.pause();
		clock.seek((Math.round(at / run.step) + by) * run.step);
	};
	return (
		<div role="toolbar" aria-label="Time" className="flex items-center gap-1.5 border-t bg-panel px-3 py-1">
			<Button quiet className="px-1.5!" aria-label="One step back" disabled={recording} onClick={() => step(-1)}>
				<StepBack size={14} />
			</Button>
			<Button aria-label={running ? 'Pause' : 'Play'} disabled={recording} onClick={running ? clock.pause : clock.play}>
				{running ? <Pause size={14} /> : <Play size={14} />}
			</Button>
			<Button quiet className="px-1.5!" aria-label="One step on" disabled={recording} onClick={() => step(1)}>
				<StepForward size={14} />
			</Button>
			<Select
				label="Speed"
				value={String(clock.speed)}
				options={[
					{ value: '0.25', label: 'quarter speed' },
					{ value: '0.5', label: 'half speed' },
					{ value: '1', label: 'as it goes' },
					{ value: '2', label: 'twice as fast' },
				]}
				onChange={(speed) => clock.setSpeed(Number(speed))}
			/>
			<Button
				quiet
				aria-pressed={loop !== null}
				title={
					loop
						? `Over and over from ${seconds(loop[0])} to ${seconds(loop[1])}`
						: 'Over and over: half a second about this instant'
				}
				className={`px-1! ${loop ? 'border border-ink! font-semibold' : ''}`}
				aria-label="Loop a part"
				onClick={() => clock.setLoop(loop ? null : [Math.max(0, at - 0.25), Math.min(end, at + 0.25)])}
			>
				<Repeat size={14} />
			</Button>
			{loop && (
				<span className="figure text-[12px] text-quiet">
					{seconds(loop[0])}–{seconds(loop[1])}
				</span>
			)}
			<input
				type="range"
				aria-label="Instant of the run"
				aria-valuetext={seconds(at)}
				min={0}
				max={end}
				step={run.step}
				value={at}
				disabled={recording}
				className="mx-1 min-w-0 flex-1"
				onChange={(event) => {
					clock.pause();
					clock.seek(Number(event.target.value));
				}}
			/>
			<span className="figure w-16 text-right">{seconds(at)}</span>
			<Button
				className={recording ? 'border-cut! font-semibold text-cut' : ''}
				title="Time runs: walk with the arrow keys, or drag what moves; what you do becomes keys"
				onClick={recording ? onStop : onRecord}
			>
				{recording ? <Square size={12} /> : <Circle size={12} className="text-cut" />}
				{recording ? 'Stop' : 'Record'}
			</Button>
		</div>
	);
}
