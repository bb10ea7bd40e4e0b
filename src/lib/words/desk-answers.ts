import type { AnswerReader } from '$lib/core/items/answers';
import { phoneInWords } from '$lib/core/people/phone';
import { answerReader } from './answers';

/** Writes answers as the firm's people read them: in English, phone numbers in groups. */
export const deskAnswerReader = (): AnswerReader => answerReader('en', (number) => phoneInWords(number, ''));
