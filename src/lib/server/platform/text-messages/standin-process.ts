import { startTextMessageStandin } from './standin';

const standin = await startTextMessageStandin({
	port: Number(process.env.TEXT_STANDIN_PORT),
	folder: process.env.TEXT_STANDIN_FOLDER ?? '.lantern/texts',
	key: process.env.TEXT_GATEWAY_KEY ?? '',
	answersTo: `${process.env.ORIGIN}/texts/answers`
});
const stop = () => void standin.close().then(() => process.exit(0));
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
