import type { Settings } from '../settings';
import { folderStore, type PaperStore } from './paper-store';
import { s3Store, type S3Store } from './s3-store';

type StoreSettings = Pick<Settings, 'PAPERS_FOLDER' | 'S3_ENDPOINT' | 'S3_BUCKET' | 'S3_ACCESS_KEY' | 'S3_SECRET_KEY' | 'S3_REGION'>;

/** The S3-compatible store that the settings name, or null where papers are in a folder. */
export function storeOf(given: Omit<StoreSettings, 'PAPERS_FOLDER'>): S3Store | null {
	const { S3_ENDPOINT: endpoint, S3_BUCKET: bucket, S3_ACCESS_KEY: accessKey, S3_SECRET_KEY: secretKey, S3_REGION: region } = given;
	return endpoint && bucket && accessKey && secretKey ? s3Store({ endpoint, bucket, accessKey, secretKey, region }) : null;
}

/** Where papers are: in the store that is named, else in the folder. */
export const openPapers = (given: StoreSettings): PaperStore => storeOf(given) ?? folderStore(given.PAPERS_FOLDER);
