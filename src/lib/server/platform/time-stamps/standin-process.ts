import { startTimeStampStandin } from './standin';

const standin = await startTimeStampStandin({
	port: Number(process.env.TSA_STANDIN_PORT),
	folder: process.env.TSA_STANDIN_FOLDER ?? '.lantern/time-stamps'
});
const stop = () => void standin.close().then(() => process.exit(0));
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
