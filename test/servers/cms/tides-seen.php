<?php
// What the CMS has of tides.php, as JSON: ids are said as whether they are those that are meant.
global $wpdb;
$home = get_option('home');
$page = fn ($name) => get_page_by_path($name)->ID;
$tide = fn ($name) => $wpdb->get_row($wpdb->prepare("select * from {$wpdb->posts} where post_type = 'tide' and post_name = %s", $name));
$login = fn ($id) => get_userdata($id)->user_login ?? '';
[$high, $low, $later, $links, $people, $rules] = [$tide('high'), $tide('low'), $tide('later'), get_option('tide_links'), get_option('tide_people'), get_option('tide_rules')];
$news = get_page_by_path('storm-news', OBJECT, 'post')->ID;
echo json_encode([
  'owners' => [$login($high->post_author), $login($low->post_author), $login($later->post_author)],
  'later' => [$later->post_status, $later->post_date, $later->post_date_gmt],
  'tree' => $low->post_parent === $high->ID && get_post_meta($high->ID, '_tide_next', true) === $low->ID,
  'markup' => str_replace([$page('fares'), $page('contact')], ['FARES', 'CONTACT'], $high->post_content),
  'links' => [$links['archive'] === "$home/archives/$news#top", $links['edit'] === "<a href=\"$home/wp-admin/post.php?post={$page('fares')}&amp;action=edit\">x</a>", $links['share'] === 'https://share.example/?u=' . rawurlencode("$home/?page_id={$page('contact')}"), $links['live'] === "See $home/fares/ and $home/fares/"],
  'people' => [$login($people['user_id']), array_map($login, $people['author_ids'])],
  'rules' => [$rules[0]['value'] === (int) $high->ID, $rules[1]['value'] === (int) $high->ID, $rules[2]['value'] === (string) $page('contact')],
]);
