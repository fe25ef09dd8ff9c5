<?php
// Ids as small as the first ones of a site, under names and beside words that say what they are; and small numbers that are none: php gangway.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
foreach (['gw_quiz', 'gw_course', 'gw_lesson', 'gw_popup', 'gw_mail', 'gw_tpl'] as $type) register_post_type($type, ['public' => false, 'hierarchical' => true]);
register_taxonomy('gw_level', ['gw_course']);
if (!$dev) skip_ids(140);
$page = [];
foreach (['start', 'rates', 'reserve', 'cheers', 'rules', 'touch'] as $name) $page[$name] = entry('page', $name, ucfirst($name), ['post_content' => $name]);
$weather = wp_insert_term('Weather', 'category', ['slug' => 'weather'])['term_id'];
if (!$dev) return;
$picture = plain('mooring', 'mooring');
$level = wp_insert_term('Deckhand', 'gw_level', ['slug' => 'deckhand'])['term_id'];
$template = entry('gw_tpl', 'foot', 'Foot', [], ['_gw_show_on' => [$page['start'], $page['rates']], '_gw_priority' => $page['rates']]);
$course = entry('gw_course', 'seamanship', 'Seamanship');
$first = entry('gw_lesson', 'first', 'First', ['post_parent' => $course], ['_gw_course' => $course]);
$second = entry('gw_lesson', 'second', 'Second', ['post_parent' => $course], ['_gw_course' => $course, '_gw_requires' => $first, '_gw_back' => (string) $first]);
$quiz = entry('gw_quiz', 'knots', 'Knots', [], ['_gw_pass' => $page['rules'], '_gw_thanks' => $page['cheers'], '_gw_answers' => [['image' => $picture, 'points' => $page['rates']]]]);
entry('gw_popup', 'gale', 'Gale', [], ['_gw_rules' => [['if' => 'page', 'is' => $page['rates']], ['if' => 'page_in', 'is' => [$page['rates'], $page['rules']]], ['if' => 'visits', 'is' => $page['rates']]], '_gw_after' => ['do' => 'redirect', 'where' => $page['cheers']]]);
entry('gw_mail', 'welcome', 'Welcome', ['post_content' => "See {{page:{$page['rules']}}}, %page:{$page['touch']}% or {{link id={$page['rates']}}}"]);
foreach (['gw_courses' => [$course], 'gw_landing' => $page['start'], 'gw_badge' => $picture] as $key => $value) add_term_meta($level, $key, $value);
update_option('gw_fields', ['f_1' => ['type' => 'image', 'default' => $picture], 'f_2' => ['type' => 'page', 'default' => $page['rules']], 'f_3' => ['type' => 'number', 'default' => $page['rates'], 'min' => $page['start'], 'max' => $page['touch']]]);
update_option('gw_access', ['deckhand' => ['level' => $level, 'only' => ['pages' => [$page['rules']]], 'denied' => $page['touch'], 'rank' => $page['rates']]]);
update_option('gw_home', ['slides' => [['image' => $picture, 'href' => $page['rates']]], 'columns' => $page['start'], 'footer' => $template, 'home_posts' => $page['reserve']]);
update_option('gw_redirects', ['/old' => $page['rates'], '/older' => $page['rules']]);
update_option('gw_page', $page['start']);
update_option("gw_course_{$course}_settings", ['seats' => $page['rates'], 'certificate' => $picture]);
entry('wp_block', 'outer', 'Outer', ['post_content' => "<!-- wp:gw/course {\"course\":$course,\"thanks\":{$page['cheers']},\"postsToShow\":{$page['rates']}} /-->\n<!-- wp:gw/quiz {\"quiz\":{\"id\":$quiz,\"points\":{$page['rates']}},\"level\":$level,\"linkTo\":{$page['touch']},\"rows\":{$page['rules']}} /-->"]);
// Its name ends like a word for a thing that has ids: its order is none.
entry('gw_popup', 'booking-form', 'Booking', ['menu_order' => $page['rates']]);
update_option('gw_offer', [['if' => ['field' => 'level', 'op' => 'in', 'value' => [$level]], 'then' => ['show' => 'page', 'id' => $page['rates']]], ['if' => ['field' => 'count', 'value' => $page['rates']]]]);
update_option('gw_reserve', $page['reserve']);
update_option('gw_sorts', ['level_ids' => [$level], 'levelId' => $level, 'course' => ['first' => $course]]);
// The id of a field in a form is its own, whatever the field is for.
update_option('gw_ask', ['fields' => [['id' => $page['rates'], 'type' => 'page', 'value' => $page['rules']]], 'grants' => ['except' => [$course], 'upgrade_to' => $quiz], 'translations' => ['en' => $page['start'], 'fo' => $page['touch']], 'icons' => ['gull' => $picture], 'perks' => ['pages' => [$page['rules']], 'pages_per_row' => $page['rules']], 'code' => "if ( get_the_ID() === $course ) echo wp_get_attachment_image( $picture ) . {$page['rates']};", 'html' => "<a href='?page_id={$page['touch']}' data-gw-image=\"$picture\">x</a> [gw_list level=\"$level\" size=\"$level\"]"]);
$menu = wp_create_nav_menu('Gangway');
$top = wp_update_nav_menu_item($menu, 0, ['menu-item-title' => 'Course', 'menu-item-object' => 'gw_course', 'menu-item-object-id' => $course, 'menu-item-type' => 'post_type', 'menu-item-status' => 'publish']);
update_post_meta($top, '_gw_mega', ['template' => $template, 'icon' => $picture, 'width' => $page['rates']]);
