import { join } from 'node:path';
import { readFileSync, readdirSync } from 'node:fs';
import { spawn, spawnSync } from 'node:child_process';
import { HOME, startDatabase } from './database.mjs';
import { freePort, productEnv } from './processes.mjs';
const folder = join(HOME, '.lantern/bench');
const cluster = await startDatabase({ folder: join(folder, 'database'), port: 28432 });
const port = await freePort();
const env = { ...process.env, ...productEnv({ database: 'bench', folder, port, smtpPort: await freePort(), bouncePort: 0, textPort: 1, ownerUrl: cluster.ownerUrl('bench'), appUrl: cluster.appUrl('bench') }), DEMO: '0', LOG_LEVEL: 'warn' };
const args = process.env.PROF ? ['--cpu-prof', '--cpu-prof-dir=/tmp/prof', '--cpu-prof-interval=500'] : [];
const app = spawn(process.execPath, [...args, 'build/node/app.js'], { env, stdio: 'inherit', cwd: HOME });
const origin = env.ORIGIN;
for (let i = 0; i < 300; i++) { if (await fetch(origin + '/health').then(r => r.ok, () => false)) break; await new Promise(r => setTimeout(r, 100)); }
const signIn = async (at, email) => {
  const a = await fetch(`${origin}${at}/sign-in`, { method: 'POST', headers: { origin, accept: 'text/html', 'content-type': 'application/x-www-form-urlencoded' }, body: new URLSearchParams({ email, password: 'measured by lamplight' }), redirect: 'manual' });
  return a.headers.getSetCookie().map(s => s.split(';')[0]).join('; ');
};
const cookie = await signIn('/desk', 'bench@bench.example');
const email = cluster.sql ? process.env.PEMAIL : '';
const ticks = (pid) => { const f = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' '); return (Number(f[11]) + Number(f[12])) * 10; };
const pgTicks = () => { let t = 0; for (const p of readdirSync('/proc')) { if (!/^\d+$/.test(p)) continue; try { if (readFileSync(`/proc/${p}/comm`, 'utf8').trim() === 'postgres') t += ticks(p); } catch {} } return t; };
for (const path of (process.env.PATHS ?? '/desk/clients /desk/rounds').split(' ')) {
  const c = path.startsWith('/portal') ? await signIn('/portal/bench', process.env.PEMAIL) : cookie;
  const get = async () => { const r = await fetch(origin + path, { headers: { cookie: c, accept: 'text/html' }, redirect: 'manual' }); const t = await r.text(); return [r.status, t.length]; };
  const load = (n) => Promise.all(Array.from({ length: 8 }, async () => { for (let i = 0; i < n; i++) await get(); }));
  console.log(path, await get());
  await load(40);
  const [a0, p0, s0, t0] = [ticks(app.pid), pgTicks(), process.cpuUsage(), performance.now()];
  await load(80);
  const took = performance.now() - t0, own = process.cpuUsage(s0);
  const n = 640;
  console.log(path, (n * 1000 / took).toFixed(0) + '/s', 'app ms/req', ((ticks(app.pid) - a0) / n).toFixed(2), 'pg ms/req', ((pgTicks() - p0) / n).toFixed(2), 'load gen', ((own.user + own.system) / 1000 / n).toFixed(2), 'wall', (took / n).toFixed(2));
}
app.kill('SIGTERM'); await new Promise(r => app.once('exit', r));
cluster.stop(); process.exit(0);
