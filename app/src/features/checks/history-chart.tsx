/** How the checks stood over the runs that were kept: a chart, fetched with the view that shows it. */
import { BarChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import type { Run } from '../../data/db';
import { useTheme } from '../../ui/theme';

use([BarChart, GridComponent, TooltipComponent, SVGRenderer]);

/** @param runs the latest first */
export default function HistoryChart({ runs, onPoint }: { runs: readonly Run[]; onPoint: (run: Run) => void }) {
	const host = useRef<HTMLDivElement>(null);
	const theme = useTheme();
	useEffect(() => {
		if (!host.current) return;
		const style = getComputedStyle(document.documentElement);
		const of = (name: string) => style.getPropertyValue(`--${name}`).trim();
		const inTime = [...runs].reverse();
		const chart = init(host.current, null, { renderer: 'svg' });
		const text = { color: of('quiet'), fontFamily: 'inherit' };
		chart.setOption({
			animation: false,
			darkMode: theme === 'dark',
			grid: { left: 36, right: 12, top: 14, bottom: 26 },
			tooltip: {
				trigger: 'axis',
				textStyle: { color: of('ink') },
				backgroundColor: of('panel'),
				borderColor: of('line'),
			},
			xAxis: {
				type: 'category',
				data: inTime.map((run) => new Date(run.at).toLocaleString('en-GB', { dateStyle: 'short', timeStyle: 'short' })),
				axisLabel: text,
				axisLine: { lineStyle: { color: of('line') } },
			},
			yAxis: { type: 'value', minInterval: 1, axisLabel: text, splitLine: { lineStyle: { color: of('line') } } },
			series: [
				{
					name: 'hold',
					type: 'bar',
					barMaxWidth: 28,
					stack: 'checks',
					data: inTime.map((r) => r.hold),
					itemStyle: { color: of('quiet') },
				},
				{
					name: 'fail',
					type: 'bar',
					stack: 'checks',
					data: inTime.map((r) => r.failing.length),
					// Hatched, so that it is told from what holds without colour.
					itemStyle: {
						color: of('cut'),
						decal: { symbol: 'rect', dashArrayX: [1, 0], dashArrayY: [3, 3], rotation: 0.8 },
					},
				},
			],
		});
		chart.on('click', ({ dataIndex }) => {
			const run = inTime[dataIndex];
			if (run) onPoint(run);
		});
		const observer = new ResizeObserver(() => chart.resize());
		observer.observe(host.current);
		return () => {
			observer.disconnect();
			chart.dispose();
		};
	}, [runs, theme, onPoint]);
	return (
		<div
			ref={host}
			role="img"
			aria-label={`Checks that held and failed over ${runs.length} runs`}
			className="h-44 w-full"
		/>
	);
}
