<?php
// What the CMS has of tides.php, as JSON: ids are said as whether they are those that are meant.
global $wpdb;
$home = get_option('home');
$page = fn ($name) => get_page_by_path($name)->ID;
$tide = fn ($name) => $wpdb->get_row($wpdb->prepare("select * from {$wpdb->posts} where post_type = 'tide' and post_name = %s", $name));
$login = fn ($id) => get_userdata($id)->user_login ?? '';
[$high, $low, $later, $links, $people, $rules] = [$tide('high'), $tide('low'), $tide('later'), get_option('tide_links'), get_option('tide_people'), get_option('tide_rules')];
$zone = $wpdb->get_var("select term_id from {$wpdb->term_taxonomy} where taxonomy = 'tide_zone'");
$where = get_option('tide_where');
$news = get_page_by_path('storm-news', OBJECT, 'post')->ID;
echo json_encode([
  'owners' => [$login($high->post_author), $login($low->post_author), $login($later->post_author)],
  'later' => [$later->post_status, $later->post_date, $later->post_date_gmt],
  'tree' => $low->post_parent === $high->ID && get_post_meta($high->ID, '_tide_next', true) === $low->ID,
  'markup' => str_replace([$page('fares'), $page('contact')], ['FARES', 'CONTACT'], $high->post_content),
  'links' => [$links['archive'] === "$home/archives/$news#top", $links['edit'] === "<a href=\"$home/wp-admin/post.php?post={$page('fares')}&amp;action=edit\">x</a>", $links['share'] === 'https://share.example/?u=' . rawurlencode("$home/?page_id={$page('contact')}"), $links['live'] === "See $home/fares/ and $home/fares/", $links['host'] === substr($home, 7), str_starts_with($links['plain'], 'At ' . substr($home, 7) . '/fares/ or office@127.0.0.1:')],
  'people' => [$login($people['user_id']), array_map($login, $people['author_ids'])],
  'where' => $where === ['include/all', "include/single/page/{$page('fares')}", "not/in/tide_zone/$zone", "include/single/tide/$high->ID", "page:{$page('contact')}", 'on' => ["tide_$high->ID" => 1], 'default_tide' => $high->ID, 'low_tides' => [(int) $high->ID, (int) $low->ID]],
  'gauge' => get_option('tide_widget') === '[gauge label="x" settings="' . rawurlencode(json_encode(['post_id' => (string) $page('fares'), 'link' => "$home/fares/"])) . '"]',
  'css' => get_option('tide_css') === ".tide-$high->ID .page-id-{$page('contact')}{background:url(/x.png)}",
  'targets' => get_option('tide_targets') === [['target' => 'page', 'value' => [$page('fares'), $page('contact')]], ['type' => 'image', 'default_value' => get_page_by_path('harbour', OBJECT, 'attachment')->ID]],
  'object' => $wpdb->get_var("select option_value from {$wpdb->options} where option_name = 'tide_object'") === "O:10:\"Tide\\Gauge\":1:{s:19:\"\0Tide\\Gauge\0page_id\";i:{$page('fares')};}",
  'block' => get_page_by_path('gauge', OBJECT, 'wp_block')->post_content === "<!-- wp:tide/gauge {\"at\":{\"tide\":$high->ID},\"perPage\":12} /-->",
  'rules' => [$rules[0]['value'] === (int) $high->ID, $rules[1]['value'] === (int) $high->ID, $rules[2]['value'] === (string) $page('contact')],
]);
