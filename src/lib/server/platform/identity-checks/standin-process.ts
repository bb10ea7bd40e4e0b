import { startIdentityCheckStandin } from './standin';

const standin = await startIdentityCheckStandin({
	port: Number(process.env.IDENTITY_STANDIN_PORT),
	key: process.env.IDENTITY_CHECK_KEY ?? ''
});
const stop = () => void standin.close().then(() => process.exit(0));
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
