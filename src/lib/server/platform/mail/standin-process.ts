import { startMailStandin } from './standin';

const standin = await startMailStandin({
	port: Number(process.env.MAIL_STANDIN_PORT),
	folder: process.env.MAIL_STANDIN_FOLDER ?? '.lantern/mail',
	bouncePort: Number(process.env.BOUNCE_SMTP_PORT) || undefined
});
const stop = () => void standin.close().then(() => process.exit(0));
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
