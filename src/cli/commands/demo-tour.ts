/** One stop of the tour: a command, what to look at, and the exit code that belongs to it. */
export interface Stop { readonly title: string; readonly look: string; readonly words: readonly string[]; readonly code: number }

const FILE = 'winter.pochette';
const WINTER = ['template:front', 'settings:tickets#mail'];

export const TOUR: readonly Stop[] = [
  { title: '1. Which sites are there?', look: 'Note that "old" is behind: older extensions, one inactive, one missing.', words: ['sites'], code: 0 },
  { title: '2. What can travel from the development site?', look: 'The site style is in the list though the CMS hides it; the shop settings cannot travel, and it says why.', words: ['list', 'dev'], code: 0 },
  { title: '3. One item, freed from its site', look: 'Local ids and the site\'s address are gone: they stand as references and tokens.', words: ['show', 'dev', 'template:winter-timetable'], code: 0 },
  { title: '4. Export two things', look: 'What they refer to comes along; the secret key and the mail sender stay.', words: ['export', 'dev', ...WINTER, '-o', FILE, '--title', 'Winter front page', '--description', 'Front page and ticket mails for the winter timetable'], code: 0 },
  { title: '5. Look into the file', look: 'Contents, requirements, origin; every digest was checked.', words: ['inspect', FILE], code: 0 },
  { title: '6. Compare both sites', look: 'Exit code 1 says that there are differences. Lists go by their keys, texts by their lines.', words: ['compare', 'dev', 'live'], code: 1 },
  { title: '7. Would it work on the old host?', look: 'Everything that lacks is said at once, each with what to do. Exit code 3: blocked.', words: ['route', FILE, 'old'], code: 3 },
  { title: '8. The route to the live site', look: 'What others need comes first; the two timetables link to each other, so one of them is completed in a second pass.', words: ['route', 'dev', 'live', '-o', 'route.yaml'], code: 0 },
  { title: '9. Import', look: 'The live site is guarded: its name has to be given. A safety copy is taken first, and everything is read back.', words: ['import', '--route', 'route.yaml', '--yes', '--confirm', 'live'], code: 0 },
  { title: '10. Verify', look: 'Every item is equal, and the public pages answer.', words: ['verify', 'dev', 'live'], code: 0 },
  { title: '11. Once more: nothing to do', look: 'A second import of the same finds nothing to do and makes no run.', words: ['import', 'dev', 'live', '--yes', '--confirm', 'live'], code: 0 },
  { title: '12. What happened?', look: 'Exports and imports, with who and when.', words: ['history'], code: 0 },
  { title: '13. Go back', look: 'The live site is brought back exactly to its safety copy; what the import created is removed.', words: ['undo', 'live', '--yes', '--confirm', 'live'], code: 0 },
  { title: '14. Unseen first', look: 'A landing page and what it needs arrive as drafts. Its custom code was not asked for and stays; an author without account is replaced.', words: ['import', 'dev', 'live', 'landing:winter-offers', '--draft', '--yes', '--confirm', 'live'], code: 0 },
  { title: '15. Publish', look: 'The second act: visitors see it now, and every page is asked for.', words: ['publish', 'live', '--yes', '--confirm', 'live'], code: 0 },
  { title: '16. What is left for a person?', look: 'Secrets never travel: one has to be entered. The drafts are off the list already.', words: ['followups', 'live'], code: 0 },
  { title: '17. Parts of one form onto another', look: 'Only messages and style; the fields of the other form stay.', words: ['route', 'dev', 'live', 'form:group-booking#messages', 'form:group-booking#style', '--as', 'form:group-booking=form:lost-property'], code: 0 },
  { title: '18. An older site', look: 'The form is converted to the older version\'s data. What cannot be imported is listed with the reason, and nothing of it is imported in part.', words: ['route', 'dev', 'old', 'form:*', 'course:*', 'role:*', '--allow-missing'], code: 0 },
  { title: '19. Go back', look: 'Import and publishing are taken back together.', words: ['undo', 'live', '--yes', '--confirm', 'live'], code: 0 },
  { title: '20. Compare again', look: 'The same differences as before the import.', words: ['compare', 'dev', 'live', '--short'], code: 1 },
];

export const TO_TRY: readonly string[] = [
  'sites', 'list dev', 'compare dev live', 'show dev template:front', `export dev template:front 'settings:tickets#mail' -o ${FILE}`, `inspect ${FILE}`,
  `route ${FILE} old`, `route ${FILE} live`, `import ${FILE} live --yes --confirm live`, `verify ${FILE} live`, 'history', 'undo live --yes --confirm live',
];
