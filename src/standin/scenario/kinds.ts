import type { KindInput } from '../../protocol/index.ts';

/** The kinds of the simulated CMS itself, as a site tells them over the protocol. They are written into a site when it is made. */
export const MARKUP = {
  attributes: { 'data-template': 'template', 'data-listing': 'listing', 'data-media': 'media', 'data-form': 'form', 'data-popup': 'popup' },
  comments: { template: 'template', templates: 'template', listing: 'listing', media: 'media', form: 'form', quiz: 'quiz', reusable: 'block' },
  patterns: { 'form-{id}': 'form', '[form id="{id}"]': 'form' },
};
/** Who made an item: another site has other people, known by their mail address. */
export const AUTHOR = { path: '$.author', to: 'person', otherwise: 'user' } as const;

export const CMS_KINDS: readonly KindInput[] = [
  {
    id: 'tholepin/settings', version: 1, title: 'Site settings', plural: 'Site settings', rank: 80, titleFrom: '$.label', where: '/',
    description: 'Title, front page and formats of the site itself',
    codecs: [{ path: '$.option', codec: 'json' }],
    parts: [{ name: 'formats', title: 'Date and number formats', paths: ['$.option.formats'] }, { name: 'pages', title: 'Special pages', paths: ['$.option.pages'] }],
    references: [{ path: '$.option.pages.*', to: 'page' }],
    siteBound: ['$.option.title', '$.option.adminMail'], volatile: ['$.option.visits'],
  },
  {
    id: 'tholepin/theme-options', version: 1, title: 'Theme options', plural: 'Theme options', rank: 70, themeScoped: true, titleFrom: '$.label', where: '/',
    description: 'Options of one theme; a child theme has its own',
    parts: [
      { name: 'header', title: 'Header', paths: ['$.header'] }, { name: 'footer', title: 'Footer', paths: ['$.footer'] }, { name: 'code', title: 'Custom code', paths: ['$.code'] },
    ],
    codecs: [{ path: '$.footer.text', codec: 'html', ...MARKUP }],
    references: [{ path: '$.header.menu', to: 'menu' }, { path: '$.header.notice', to: 'template' }],
    siteBound: ['$.header.logo'],
  },
  {
    id: 'tholepin/style', version: 1, labels: { css: 'Own style rules', family: 'Typeface', size: 'Size in pixels', ink: 'Letters', ground: 'Ground' }, title: 'Site style', plural: 'Site style', rank: 75, singleton: true, hidden: true, titleFrom: '$.label', where: '/',
    description: 'The single record with the colours and fonts of the whole site',
    parts: [
      { name: 'colours', title: 'Colours', paths: ['$.colours'] }, { name: 'fonts', title: 'Fonts', paths: ['$.fonts'] },
      { name: 'code', title: 'Custom CSS', paths: ['$.css'] },
    ],
    keyed: [{ path: '$.colours', key: 'key' }, { path: '$.fonts', key: 'key' }],
    references: [{ path: '$.backdrop', to: 'media' }],
    volatile: ['$.compiled'],
  },
  {
    id: 'tholepin/media', version: 1, title: 'Picture', plural: 'Media', rank: 10, titleFrom: '$.title', description: 'A picture or file with its title and alt text',
    files: ['$.file'], volatile: ['$.uploaded'], where: '/media/{name}/',
    parts: [{ name: 'words', title: 'Title and alt text', paths: ['$.title', '$.alt'] }],
  },
  {
    id: 'tholepin/image-format', version: 1, title: 'Image format', rank: 15, titleFrom: '$.title', description: 'Width, height and cut of pictures',
    references: [{ path: '$.fallback', to: 'media' }], where: '/',
  },
  {
    id: 'tholepin/content-type', version: 1, title: 'Content type', rank: 20, titleFrom: '$.label', where: '/{name}/',
    description: 'A sort of content with its own address and template',
    references: [{ path: '$.template', to: 'template' }, { path: '$.picture.format', to: 'image-format' }, { path: '$.taxonomies[*]', to: 'taxonomy', by: 'name' }],
    volatile: ['$.count'],
  },
  {
    id: 'tholepin/template', version: 2, title: 'Template', rank: 40, draftable: true, titleFrom: '$.title', where: '/templates/{name}/',
    description: 'A design with texts, pictures and blocks',
    parts: [
      { name: 'layout', title: 'Markup and layout', paths: ['$.markup', '$.layout', '$.related', '$.next', '$.title'] },
      { name: 'picture', title: 'Picture', paths: ['$.hero'] }, { name: 'code', title: 'Custom code', paths: ['$.code'] },
    ],
    codecs: [{ path: '$.markup', codec: 'html', ...MARKUP }, { path: '$.related', codec: 'list' }, { path: '$.link', codec: 'url' }, { path: '$.layout', codec: 'json' }, { path: '$.layout..note', codec: 'html', ...MARKUP }],
    keyed: [{ path: '$.layout.bands', key: 'key' }],
    references: [
      AUTHOR, { path: '$.hero', to: 'media' }, { path: '$.next', to: 'template' }, { path: '$.related[*]', to: 'template' },
      { path: '$.layout.bands[*].target', kindFrom: { field: 'shows', map: { listing: 'listing', template: 'template', picture: 'media' } } },
      { path: '$.layout.widths', to: 'template', in: 'keys' },
    ],
    volatile: ['$.edited', '$.views'],
  },
  {
    id: 'tholepin/placement', version: 1, title: 'Placement', rank: 60, titleFrom: '$.label', where: '/', description: 'An area of the theme with the blocks placed in it',
    keyed: [{ path: '$.blocks', key: 'key' }], belongings: [{ path: '$.blocks[*]', id: 'id' }],
    codecs: [{ path: '$.blocks[*].text', codec: 'html', ...MARKUP }],
    references: [{ path: '$.area', to: 'area', by: 'name' }, { path: '$.blocks[*].shows', kindFrom: { field: 'type', map: { listing: 'listing', template: 'template', menu: 'menu', picture: 'media', form: 'form', reusable: 'block' } } }],
  },
  {
    id: 'tholepin/menu', version: 1, title: 'Menu', rank: 55, titleFrom: '$.label', where: '/', description: 'A menu with its entries and its position in the theme',
    keyed: [{ path: '$..entries', key: 'key' }], belongings: [{ path: '$..entries[*]', id: 'id' }],
    codecs: [{ path: '$..url', codec: 'url' }],
    parts: [{ name: 'entries', title: 'Entries', paths: ['$.entries'] }, { name: 'position', title: 'Position', paths: ['$.position'] }],
    references: [
      { path: '$.position', to: 'position', by: 'name' }, { path: '$..entries[*].icon', to: 'media' },
      { path: '$..entries[*].target', kindFrom: { field: 'type', map: { page: 'page', template: 'template', listing: 'listing', term: 'taxonomy', form: 'form' } } },
    ],
  },
  {
    id: 'tholepin/page', version: 1, title: 'Page', rank: 90, carried: false, titleFrom: '$.title', where: '/{name}/', description: 'Content: referred to, never carried',
    codecs: [{ path: '$.markup', codec: 'html', ...MARKUP }], references: [{ path: '$.template', to: 'template' }], draftable: true,
  },
  {
    id: 'tholepin/taxonomy', version: 1, title: 'Taxonomy', plural: 'Taxonomies', rank: 18, titleFrom: '$.label', description: 'A way to sort content, with its terms', where: '/',
    keyed: [{ path: '$..terms', key: 'key' }], belongings: [{ path: '$..terms[*]', id: 'id' }],
    parts: [{ name: 'terms', title: 'Terms', paths: ['$.terms'] }], references: [{ path: '$..terms[*].picture', to: 'media' }], volatile: ['$..terms[*].count'],
  },
  {
    id: 'tholepin/redirect', version: 1, title: 'Redirect', rank: 85, titleFrom: '$.label', description: 'An old path and where it leads',
    codecs: [{ path: '$.to', codec: 'url' }], volatile: ['$.hits'], unique: ['$.from'],
  },
  {
    id: 'tholepin/role', version: 1, title: 'Role', rank: 12, titleFrom: '$.label', description: 'What people of this role may do',
    parts: [{ name: 'rights', title: 'Rights', paths: ['$.rights'] }],
  },
  {
    id: 'tholepin/snippet', version: 1, title: 'Snippet', rank: 82, draftable: true, titleFrom: '$.label', description: 'Custom code that runs on every page', where: '/',
    codecs: [{ path: '$.code', codec: 'html', ...MARKUP }],
  },
  {
    id: 'tholepin/block', version: 1, title: 'Block', rank: 38, draftable: true, titleFrom: '$.title', description: 'A reusable piece of markup', where: '/blocks/{name}/',
    codecs: [{ path: '$.markup', codec: 'html', ...MARKUP }], references: [AUTHOR],
  },
  { id: 'tholepin/person', version: 1, title: 'Person', plural: 'People', rank: 90, carried: false, titleFrom: '$.label', description: 'Someone with an account, known by mail address', references: [{ path: '$.role', to: 'role', by: 'name' }] },
  { id: 'tholepin/area', version: 1, title: 'Area', rank: 90, carried: false, titleFrom: '$.label', description: 'A place of the theme for blocks' },
  { id: 'tholepin/position', version: 1, title: 'Menu position', rank: 90, carried: false, titleFrom: '$.label', description: 'A place of the theme for a menu' },
];
