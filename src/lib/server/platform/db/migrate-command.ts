import { settings } from '../settings';
import { migrate } from './migrations';

await migrate(settings().DATABASE_URL);
