/** Brings the shipped font, for all that builds or checks text. */
import font from './glyphs.json';
import { provideFont } from './letters';

provideFont(font);
