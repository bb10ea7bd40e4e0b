<svg
	width="22"
	height="22"
	viewBox="0 0 24 24"
	fill="none"
	stroke="currentColor"
	stroke-width="1.8"
	stroke-linecap="round"
	stroke-linejoin="round"
	aria-hidden="true"
>
	<path d="M9 4.5a3 3 0 0 1 6 0" /><path d="M7.5 8h9l1.5 12.5H6z" />
	<path d="M12 11.5c2 2 2.2 3.4 1.6 4.6a1.8 1.8 0 0 1-3.2 0c-.6-1.2-.4-2.6 1.6-4.6z" fill="var(--lamp-edge)" stroke="none" />
</svg>
