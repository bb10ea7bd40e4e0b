import { z } from 'zod';
import { LANGUAGE_CODES } from './languages';

/** A language that the portal and the messages speak. */
export const languageField = z.enum(LANGUAGE_CODES, 'Choose a language.');
