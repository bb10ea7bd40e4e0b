<script lang="ts">
	import type { Attachment } from 'svelte/attachments';

	/** Counts as plain bars; the table beside them says the same in figures. */
	let { label, counts }: { label: string; counts: readonly { words: string; count: number }[] } = $props();

	const drawn: Attachment<HTMLCanvasElement> = (canvas) => {
		const [labels, values] = [counts.map(({ words }) => words), counts.map(({ count }) => count)];
		const style = getComputedStyle(canvas);
		const [ink, bar, rule] = ['--ink', '--act', '--rule'].map((name) => style.getPropertyValue(name).trim());
		let gone = false;
		let chart: { destroy(): void } | undefined;
		void import('chart.js').then(({ BarController, BarElement, CategoryScale, Chart, LinearScale }) => {
			if (gone) return;
			Chart.register(BarController, BarElement, CategoryScale, LinearScale);
			chart = new Chart(canvas, {
				type: 'bar',
				data: { labels, datasets: [{ data: values, backgroundColor: bar, barThickness: 14 }] },
				options: {
					indexAxis: 'y',
					animation: false,
					responsive: true,
					maintainAspectRatio: false,
					events: [],
					scales: {
						x: { beginAtZero: true, ticks: { precision: 0, color: ink }, grid: { color: rule } },
						y: { ticks: { display: false }, grid: { display: false } }
					}
				}
			});
		});
		return () => {
			gone = true;
			chart?.destroy();
		};
	};
</script>

<div class="max-w-xl min-w-56 flex-1" role="img" aria-label={label} style:height="{counts.length * 29 + 34}px"><canvas {@attach drawn}></canvas></div>
