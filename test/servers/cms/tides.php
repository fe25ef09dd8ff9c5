<?php
// Owners, dates that lie ahead, addresses that hold ids, and entries that refer to one another: php tides.php SITE-FOLDER dev|live ADDRESS ADDRESS-OF-THE-LIVE-SITE
require __DIR__ . '/begin.php';
register_post_type('tide', ['public' => false, 'hierarchical' => true]);
[$fares, $contact] = [there('page', 'fares'), there('page', 'contact')];
skip_ids($dev ? 2 : 63);
update_option('permalink_structure', '/archives/%post_id%');
$someone = fn (string $login, string $role): int => wp_insert_user(['user_login' => $login, 'user_email' => "$login@skerrin.example", 'user_pass' => 'oars', 'role' => $role]);
if (!$dev) foreach (['anna', 'bryn'] as $login) $someone($login, 'subscriber');
$morag = $someone('morag', 'editor');
$news = entry('post', 'storm-news', 'Storm news', ['post_content' => 'Storm']);
// What somebody wrote on the development site about the live one.
$live = $argv[4];
if ($dev) {
  [$finlo, $shopper] = [$someone('finlo', 'editor'), $someone('shopper', 'subscriber')];
  $high = entry('tide', 'high', 'High', ['post_author' => $morag, 'post_content' => "[tide page=$fares times='3'] <a data-page=\"$contact\" data-leaf=\"$contact\">x</a>"]);
  $low = entry('tide', 'low', 'Low', ['post_author' => $finlo, 'post_parent' => $high], ['_tide_before' => $high, "_tide_{$fares}_tone" => 'low']);
  add_post_meta($high, '_tide_next', $low);
  entry('tide', 'later', 'Later', ['post_author' => $shopper, 'post_status' => 'future', 'post_date' => '2031-03-01 09:00:00', 'post_date_gmt' => '2031-03-01 09:00:00']);
  update_option('tide_links', ['archive' => "$address/archives/$news#top", 'edit' => "<a href=\"$address/wp-admin/post.php?post=$fares&amp;action=edit\">x</a>", 'share' => "https://share.example/?u=" . rawurlencode("$address/?page_id=$contact"), 'live' => "See $live/fares/ and $address/fares/"]);
  update_option('tide_people', ['user_id' => $morag, 'author_ids' => [$morag, $finlo], 'buyer_user_id' => $shopper]);
  update_option("tide_{$contact}_tone", ['page_id' => $fares]);
  update_option('tide_rules', [['type' => 'tide', 'value' => $high], ['type' => 'number', 'value' => $high], ['post_type' => 'page', 'value' => (string) $contact]]);
}
