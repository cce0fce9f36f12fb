/** What tells of a long job is given back, so that a page of many jobs does not hear with ever more ears. */
import { expose, proxy, type Remote, wrap } from 'comlink';
import { expect, it, onTestFinished } from 'vitest';
import { released } from './released';

it('what was handed over to tell with is given back when the work is done, and when it failed', async () => {
	const { port1, port2 } = new MessageChannel();
	onTestFinished(() => port1.close());
	const work = {
		count(to: number, tell: (n: number) => void): string {
			for (let i = 1; i <= to; i++) tell(i);
			if (to > 3) throw new Error('too many');
			return 'done';
		},
	};
	expose(released(work), port1 as never);
	const remote = wrap<typeof work>(port2 as never) as Remote<typeof work>;
	const closed: number[] = [];
	const close = MessagePort.prototype.close;
	MessagePort.prototype.close = function () {
		closed.push(1);
		close.call(this);
	};
	onTestFinished(() => void (MessagePort.prototype.close = close));
	const heard: number[] = [];
	const tell = () => proxy((n: number) => void heard.push(n));
	expect(await remote.count(3, tell())).toBe('done');
	await expect.poll(() => heard).toEqual([1, 2, 3]);
	await expect.poll(() => closed.length).toBeGreaterThan(0);
	const once = closed.length;
	await expect(remote.count(4, tell())).rejects.toThrow('too many');
	await expect.poll(() => closed.length).toBeGreaterThan(once);
	await expect.poll(() => heard).toEqual([1, 2, 3, 1, 2, 3, 4]);
});
