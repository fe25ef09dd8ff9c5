<?php
// What the values of gangway.php mean on this site: names for ids, numbers for numbers.
global $wpdb;
$called = fn ($id): string => implode('/', (array) $wpdb->get_row($wpdb->prepare("select post_type, post_name from $wpdb->posts where ID = %d", $id)));
$term = fn ($id): string => (string) $wpdb->get_var($wpdb->prepare("select slug from $wpdb->terms where term_id = %d", $id));
$all = fn (array $ids): array => array_map($called, $ids);
$fields = function (string $type, string $name) use ($wpdb): array {
  $id = $wpdb->get_var($wpdb->prepare("select ID from $wpdb->posts where post_type = %s and post_name = %s", $type, $name));
  return array_map(fn ($values) => maybe_unserialize($values[0]), get_post_meta($id)) + ['text' => get_post($id)->post_content];
};
[$foot, $second, $quiz, $popup, $mail, $block] = [$fields('gw_tpl', 'foot'), $fields('gw_lesson', 'second'), $fields('gw_quiz', 'knots'), $fields('gw_popup', 'gale'), $fields('gw_mail', 'welcome'), $fields('wp_block', 'outer')];
[$access, $home, $set, $course] = [get_option('gw_access')['deckhand'], get_option('gw_home'), get_option('gw_fields'), $wpdb->get_var("select ID from $wpdb->posts where post_name = 'seamanship'")];
$level = $wpdb->get_var("select term_id from $wpdb->terms where slug = 'deckhand'");
$named = fn (string $text): string => preg_replace_callback('/(?<=page:|id=|course":|thanks":|"id":|linkTo":)\d+/', fn ($found) => $called($found[0]), preg_replace_callback('/(?<="level":)\d+/', fn ($found) => $term($found[0]), $text));
$mega = maybe_unserialize($wpdb->get_var("select meta_value from $wpdb->postmeta where meta_key = '_gw_mega'"));
[$offer, $ask] = [get_option('gw_offer'), get_option('gw_ask')];
echo json_encode([
  'template' => [$all($foot['_gw_show_on']), $foot['_gw_priority']], 'lesson' => $all([$second['_gw_course'], $second['_gw_requires'], $second['_gw_back']]),
  'quiz' => [$quiz['_gw_pass'], $called($quiz['_gw_thanks']), $called($quiz['_gw_answers'][0]['image']), $quiz['_gw_answers'][0]['points']],
  'popup' => [$called($popup['_gw_rules'][0]['is']), $all($popup['_gw_rules'][1]['is']), $popup['_gw_rules'][2]['is'], $called($popup['_gw_after']['where'])],
  'mail' => $named($mail['text']), 'block' => $named($block['text']),
  'level' => [$all(get_term_meta($level, 'gw_courses', true)), $called(get_term_meta($level, 'gw_landing', true)), $called(get_term_meta($level, 'gw_badge', true))],
  'fields' => [$called($set['f_1']['default']), $called($set['f_2']['default']), $set['f_3']], 'access' => [$term($access['level']), $all($access['only']['pages']), $called($access['denied']), $access['rank']],
  'home' => [$called($home['slides'][0]['image']), $called($home['slides'][0]['href']), $home['columns'], $called($home['footer']), $home['home_posts']],
  'offer' => [array_map($term, $offer[0]['if']['value']), $called($offer[0]['then']['id']), $offer[1]['if']['value']], 'reserve' => $called(get_option('gw_reserve')),
  'ask' => [$ask['fields'][0]['id'], $called($ask['fields'][0]['value']), $all($ask['grants']['except']), $called($ask['grants']['upgrade_to']), $all($ask['translations']), $called($ask['icons']['gull']), $all($ask['perks']['pages']), $ask['perks']['pages_per_row'], preg_replace_callback('/(?<====\s|image\(\s)\d+/', fn ($found) => $called($found[0]), $ask['code']), preg_replace_callback('/(?<=page_id=|image=")\d+/', fn ($found) => $called($found[0]), preg_replace_callback('/(?<=level=")\d+/', fn ($found) => $term($found[0]), preg_replace('/ size="\d+"/', '', $ask['html'])))],
  'sorts' => (fn ($sorts) => [$term($sorts['level_ids'][0]), $term($sorts['levelId']), $called($sorts['course']['first'])])(get_option('gw_sorts')),
  'menu' => [$called($mega['template']), $called($mega['icon']), $mega['width']], 'order' => $wpdb->get_var("select menu_order from $wpdb->posts where post_name = 'booking-form'"),
  'redirects' => $all(get_option('gw_redirects')), 'page' => $called(get_option('gw_page')), 'settings' => [get_option("gw_course_{$course}_settings")['seats'], $called(get_option("gw_course_{$course}_settings")['certificate'])],
]);
