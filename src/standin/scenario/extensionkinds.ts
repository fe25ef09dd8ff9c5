import type { KindInput } from '../../protocol/index.ts';
import { AUTHOR, MARKUP } from './kinds.ts';

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
  }, { id: 'ticket-desk/ticket', version: 1, title: 'Ticket', rank: 90, carried: false, titleFrom: '$.title', description: 'Something to sell: content, never carried' }],
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
  'quay-forms': [
    {
      id: 'quay-forms/form', version: 2, labels: { mailTo: 'Answers go by mail to', hookKey: 'Key of the hook', thanks: 'Thank-you message', error: 'Message for mistakes', ink: 'Colour of the letters', button: 'Colour of the button' }, title: 'Form', rank: 45, draftable: true, titleFrom: '$.title', description: 'A form with its fields, messages and style', where: '/forms/{name}/',
      requires: [{ version: '>=1.5.0 <3.0.0', reads: '>=1.5.0 <3.0.0' }, { feature: 'uploads', when: { path: '$..fields[*].type', is: 'file' } }],
      keyed: [{ path: '$..fields', key: 'key' }], belongings: [{ path: '$..fields[*]', id: 'id' }],
      parts: [
        { name: 'fields', title: 'Fields', paths: ['$.fields'] }, { name: 'messages', title: 'Messages', paths: ['$.messages'] }, { name: 'style', title: 'Style', paths: ['$.style'] },
        { name: 'actions', title: 'What happens when it is sent', paths: ['$.actions'], needs: ['fields'] },
      ],
      codecs: [{ path: '$.messages.*', codec: 'html', ...MARKUP }, { path: '$.actions.thanks', codec: 'url' }, { path: '$.actions.options', codec: 'php' }],
      references: [AUTHOR, { path: '$.style.picture', to: 'media' }, { path: '$.actions.page', to: 'page' }, { path: '$.actions.options.pages[*]', to: 'page' }, { path: '$.actions.level', to: 'access-level' }],
      siteBound: ['$.actions.mailTo'], secret: ['$.actions.hookKey'], volatile: ['$.sent'],
      converters: [{
        from: '>=2.0.0 <3.0.0', to: '>=1.5.0 <2.0.0', version: 1, loses: ['the colours and the picture of the form'],
        patch: [{ op: 'move', from: '/messages/thanks', path: '/thanks' }, { op: 'move', from: '/messages/error', path: '/error' }, { op: 'remove', path: '/messages' }, { op: 'remove', path: '/style' }],
      }],
    },
    {
      id: 'quay-forms/settings', version: 1, title: 'Form settings', plural: 'Form settings', rank: 65, titleFrom: '$.label', description: 'Settings of all forms of the site',
      requires: [{ version: '>=1.5.0 <3.0.0' }], secret: ['$.captcha.key'], siteBound: ['$.sender'],
    },
  ],
  gangway: [
    {
      id: 'gangway/flow', version: 1, title: 'Flow', rank: 62, draftable: true, titleFrom: '$.title', description: 'A way through several steps, such as booking', where: '/flows/{name}/',
      requires: [{ version: '>=1.0.0 <2.0.0' }], companions: ['flow-look'],
      keyed: [{ path: '$.steps', key: 'key' }], belongings: [{ path: '$.steps[*]', id: 'id' }],
      parts: [{ name: 'steps', title: 'Steps', paths: ['$.steps'] }, { name: 'rules', title: 'Rules', paths: ['$.rules'], needs: ['steps'] }],
      codecs: [{ path: '$.steps[*].text', codec: 'html', ...MARKUP }, { path: '$.steps[*].leave', codec: 'url' }, { path: '$.steps[*].offer', codec: 'list' }],
      references: [AUTHOR, { path: '$.steps[*].template', to: 'template' }, { path: '$.steps[*].page', to: 'page' }, { path: '$.steps[*].form', to: 'form' }, { path: '$.steps[*].ticket', to: 'ticket' }, { path: '$.steps[*].offer[*]', to: 'ticket' }, { path: '$.rules.start', to: 'page' }],
      volatile: ['$.visits'],
    },
  ],
  'step-paint': [
    {
      id: 'step-paint/flow-look', version: 1, title: 'Look of a flow', plural: 'Looks of flows', rank: 63, titleFrom: '$.label', description: 'How the steps of a flow of Gangway look; kept by Step Paint in its own way',
      requires: [{ version: '>=0.9.0' }, { extension: 'gangway', version: '>=1.0.0' }], companions: ['flow'],
      codecs: [{ path: '$.design', codec: 'base64' }, { path: '$.design', codec: 'json' }], keyed: [{ path: '$.design.steps', key: 'step' }],
      references: [{ path: '$.flow', to: 'flow', by: 'name' }, { path: '$.design.steps[*].template', to: 'template' }, { path: '$.design.picture', to: 'media' }],
    },
  ],
  'lamp-room': [
    {
      id: 'lamp-room/quiz', version: 1, title: 'Quiz', plural: 'Quizzes', rank: 46, draftable: true, titleFrom: '$.title', description: 'Questions with answers and points', where: '/quizzes/{name}/',
      requires: [{ version: '>=2.0.0 <3.0.0' }, { tier: 'crew', when: { path: '$.certificate', is: true } }],
      keyed: [{ path: '$.questions', key: 'key' }, { path: '$.questions[*].answers', key: 'key' }], belongings: [{ path: '$.questions[*]', id: 'id' }, { path: '$.questions[*].answers[*]', id: 'id' }],
      parts: [{ name: 'questions', title: 'Questions', paths: ['$.questions'] }, { name: 'grading', title: 'Grading', paths: ['$.pass', '$.certificate', '$.grades'] }],
      codecs: [{ path: '$.questions[*].text', codec: 'html', ...MARKUP }], references: [AUTHOR, { path: '$.questions[*].picture', to: 'media' }], volatile: ['$.tries'],
    },
    {
      id: 'lamp-room/course', version: 1, title: 'Course', rank: 48, draftable: true, titleFrom: '$.title', description: 'Lessons and quizzes in order, and what must be done before', where: '/courses/{name}/',
      requires: [{ version: '>=2.0.0 <3.0.0' }],
      keyed: [{ path: '$.lessons', key: 'key' }], belongings: [{ path: '$.lessons[*]', id: 'id' }], parts: [{ name: 'lessons', title: 'Lessons', paths: ['$.lessons'] }, { name: 'access', title: 'Access', paths: ['$.before', '$.level'] }],
      codecs: [{ path: '$.lessons[*].markup', codec: 'html', ...MARKUP }],
      references: [AUTHOR, { path: '$.lessons[*].quiz', to: 'quiz' }, { path: '$.before[*]', to: 'course' }, { path: '$.level', to: 'access-level' }, { path: '$.picture', to: 'media' }],
    },
    {
      id: 'lamp-room/access-level', version: 1, title: 'Access level', rank: 42, titleFrom: '$.label', description: 'Who may see what', requires: [{ version: '>=2.0.0 <3.0.0' }],
      references: [{ path: '$.role', to: 'role', by: 'name' }, { path: '$.pages[*]', to: 'page' }, { path: '$.beyond', to: 'page' }],
    },
    {
      id: 'lamp-room/settings', version: 1, title: 'Lamp Room settings', plural: 'Lamp Room settings', rank: 65, titleFrom: '$.label', description: 'Settings of the whole Lamp Room', requires: [{ version: '>=2.0.0 <3.0.0' }],
      codecs: [{ path: '$.option', codec: 'json' }], references: [{ path: '$.option.pages.*', to: 'page' }, { path: '$.option.levels[*]', to: 'access-level' }], secret: ['$.option.licence'],
    },
  ],
  'signal-lamp': [
    {
      id: 'signal-lamp/popup', version: 1, title: 'Popup', rank: 58, draftable: true, titleFrom: '$.title', description: 'Something that appears over a page', where: '/', requires: [{ version: '>=1.0.0' }],
      parts: [{ name: 'content', title: 'Content', paths: ['$.title', '$.markup', '$.form'] }, { name: 'trigger', title: 'When and where it appears', paths: ['$.trigger', '$.pages', '$.notOn'] }],
      codecs: [{ path: '$.markup', codec: 'html', ...MARKUP }, { path: '$.notOn', codec: 'list' }],
      references: [AUTHOR, { path: '$.form', to: 'form' }, { path: '$.pages', to: 'page', in: 'keys' }, { path: '$.notOn[*]', to: 'page' }],
    },
  ],
  'harbour-pages': [
    {
      id: 'harbour-pages/landing', version: 1, title: 'Landing page', rank: 64, draftable: true, titleFrom: '$.title', description: 'A page that is all design', where: '/landings/{name}/', requires: [{ version: '>=3.0.0 <4.0.0' }],
      parts: [
        { name: 'page-settings', title: 'Page settings', paths: ['$.settings'] }, { name: 'styles', title: 'Styles', paths: ['$.styles'] }, { name: 'fonts-colours', title: 'Fonts and colours', paths: ['$.fonts', '$.colours'] },
        { name: 'layout', title: 'Layout', paths: ['$.bands'], needs: ['styles'] }, { name: 'code', title: 'Custom code', paths: ['$.code'], ask: true },
      ],
      keyed: [{ path: '$.bands', key: 'key' }, { path: '$.colours', key: 'key' }, { path: '$.fonts', key: 'key' }], belongings: [{ path: '$.bands[*]', id: 'id' }],
      codecs: [{ path: '$.bands[*].markup', codec: 'html', ...MARKUP }],
      references: [AUTHOR, { path: '$.bands[*].picture', to: 'media' }, { path: '$.bands[*].block', to: 'block' }, { path: '$.bands[*].popup', to: 'popup' }, { path: '$.settings.level', to: 'access-level' }],
    },
  ],
};
