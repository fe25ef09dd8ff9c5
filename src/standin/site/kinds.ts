import type { KindInput } from '../../protocol/index.ts';

/** The kinds of the simulated CMS and of its extensions, as the site tells them over the protocol. */
const MARKUP = { attributes: { 'data-template': 'template', 'data-listing': 'listing', 'data-media': 'media' }, comments: { template: 'template', templates: 'template', listing: 'listing', media: 'media' } };

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
    id: 'tholepin/style', version: 1, title: 'Site style', plural: 'Site style', rank: 75, singleton: true, hidden: true, titleFrom: '$.label', where: '/',
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
    references: [{ path: '$.template', to: 'template' }, { path: '$.picture.format', to: 'image-format' }],
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
      { path: '$.hero', to: 'media' }, { path: '$.next', to: 'template' }, { path: '$.related[*]', to: 'template' },
      { path: '$.layout.bands[*].target', kindFrom: { field: 'shows', map: { listing: 'listing', template: 'template', picture: 'media' } } },
      { path: '$.layout.widths', to: 'template', in: 'keys' },
    ],
    volatile: ['$.edited', '$.views'],
  },
  {
    id: 'tholepin/placement', version: 1, title: 'Placement', rank: 60, titleFrom: '$.label', where: '/', description: 'An area of the theme with the blocks placed in it',
    keyed: [{ path: '$.blocks', key: 'key' }], belongings: [{ path: '$.blocks[*]', id: 'id' }],
    codecs: [{ path: '$.blocks[*].text', codec: 'html', ...MARKUP }],
    references: [{ path: '$.blocks[*].shows', kindFrom: { field: 'type', map: { listing: 'listing', template: 'template', menu: 'menu', picture: 'media' } } }],
  },
  {
    id: 'tholepin/menu', version: 1, title: 'Menu', rank: 55, titleFrom: '$.label', where: '/', description: 'A menu with its entries and its position in the theme',
    keyed: [{ path: '$..entries', key: 'key' }], belongings: [{ path: '$..entries[*]', id: 'id' }],
    codecs: [{ path: '$..url', codec: 'url' }],
    parts: [{ name: 'entries', title: 'Entries', paths: ['$.entries'] }, { name: 'position', title: 'Position', paths: ['$.position'] }],
    references: [{ path: '$..entries[*].target', kindFrom: { field: 'type', map: { page: 'page', template: 'template', listing: 'listing' } } }],
  },
  {
    id: 'tholepin/page', version: 1, title: 'Page', rank: 90, carried: false, titleFrom: '$.title', where: '/{name}/', description: 'Content: referred to, never carried',
    codecs: [{ path: '$.markup', codec: 'html', ...MARKUP }], references: [{ path: '$.template', to: 'template' }], draftable: true,
  },
];

/** Kinds by the extension that owns them. */
export const EXTENSION_KINDS: Readonly<Record<string, readonly KindInput[]>> = {
  'ticket-desk': [{
    id: 'ticket-desk/settings', version: 3, title: 'Ticket settings', plural: 'Ticket settings', rank: 65, titleFrom: '$.label', where: '/tickets/',
    description: 'Mail, payment and pages of the ticket desk', requires: [{ version: '>=3.0.0 <4.0.0', reads: '>=3.0.0 <5.0.0' }],
    codecs: [{ path: '$.option', codec: 'json' }, { path: '$.option.mail.body', codec: 'html', ...MARKUP }],
    keyed: [{ path: '$.option.fares', key: 'key' }],
    parts: [
      { name: 'mail', title: 'Mails to passengers', paths: ['$.option.mail'] }, { name: 'fares', title: 'Fare classes', paths: ['$.option.fares'] },
      { name: 'payment', title: 'Payment', paths: ['$.option.payment'] }, { name: 'pages', title: 'Pages of the booking', paths: ['$.option.pages'], needs: ['mail'] },
    ],
    references: [{ path: '$.option.pages.*', to: 'page' }, { path: '$.option.mail.template', to: 'template' }, { path: '$.option.fareTemplates', to: 'template', in: 'keys' }],
    siteBound: ['$.option.mail.sender'], secret: ['$.option.payment.secretKey'], volatile: ['$.option.lastTicket'],
  }],
  'weather-flag': [{
    id: 'weather-flag/settings', version: 1, title: 'Weather notices', plural: 'Weather notices', rank: 65, titleFrom: '$.label', where: '/',
    description: 'Levels, colours and sources of weather notices', requires: [{ version: '>=1.4.0 <2.0.0' }],
    codecs: [{ path: '$.option', codec: 'json' }], keyed: [{ path: '$.option.levels', key: 'key' }],
    parts: [{ name: 'levels', title: 'Levels and colours', paths: ['$.option.levels'] }, { name: 'source', title: 'Source', paths: ['$.option.source'] }],
    references: [{ path: '$.option.listing', to: 'listing' }, { path: '$.option.levels[*].picture', to: 'media' }],
    secret: ['$.option.source.key'], volatile: ['$.option.fetched'],
  }],
  'crossing-board': [{
    id: 'crossing-board/listing', version: 1, title: 'Listing', rank: 30, titleFrom: '$.title', where: '/listings/{name}/',
    description: 'A list of entries of one content type, with its columns and cards',
    requires: [{ version: '>=2.1.0 <3.0.0' }, { feature: 'live-departures', when: { path: '$.live', is: true } }, { tier: 'fleet', when: { path: '$.look', is: 'cards' } }],
    keyed: [{ path: '$.columns', key: 'key' }],
    parts: [{ name: 'columns', title: 'Columns', paths: ['$.columns'] }, { name: 'look', title: 'Look', paths: ['$.look', '$.format', '$.card'] }],
    references: [{ path: '$.source', to: 'content-type', by: 'name' }, { path: '$.format', to: 'image-format' }, { path: '$.card', to: 'template' }],
    codecs: [{ path: '$.more', codec: 'url' }],
  }],
  'field-locker': [{
    id: 'field-locker/field-set', version: 1, title: 'Field set', rank: 25, titleFrom: '$.title', where: '/',
    description: 'Fields of a content type, without the data in them', requires: [{ version: '>=1.0.0 <2.0.0' }],
    keyed: [{ path: '$..fields', key: 'key' }], belongings: [{ path: '$..fields[*]', id: 'id' }],
    references: [{ path: '$.for', to: 'content-type', by: 'name' }, { path: '$..fields[*].template', to: 'template' }, { path: '$..fields[*].format', to: 'image-format' }],
  }],
  'souvenir-shop': [{
    id: 'souvenir-shop/settings', version: 1, title: 'Shop settings', plural: 'Shop settings', rank: 65, titleFrom: '$.label', codecs: [{ path: '$.option', codec: 'json' }],
    requires: [{ version: '>=1.0.0' }],
  }],
};
