<?php
// Owners, dates that lie ahead, words that say what a number is, addresses that hold ids, and entries that refer to one another: php tides.php SITE-FOLDER dev|live ADDRESS ADDRESS-OF-THE-LIVE-SITE
require __DIR__ . '/begin.php';
register_post_type('tide', ['public' => false, 'hierarchical' => true]);
register_taxonomy('tide_zone', ['tide']);
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
  entry('tide', 'crew', 'Crew', ['post_password' => 'oars', 'post_content' => 'For the crew']);
  entry('tide', 'later', 'Later', ['post_author' => $shopper, 'post_status' => 'future', 'post_date' => '2031-03-01 09:00:00', 'post_date_gmt' => '2031-03-01 09:00:00']);
  update_option('tide_links', ['archive' => "$address/archives/$news#top", 'edit' => "<a href=\"$address/wp-admin/post.php?post=$fares&amp;action=edit\">x</a>", 'share' => "https://share.example/?u=" . rawurlencode("$address/?page_id=$contact"), 'live' => "See $live/fares/ and $address/fares/", 'host' => substr($address, 7), 'plain' => 'At ' . substr($address, 7) . '/fares/ or office@' . substr($address, 7)]);
  update_option('tide_people', ['user_id' => $morag, 'author_ids' => [$morag, $finlo], 'buyer_user_id' => $shopper]);
  update_option("tide_{$contact}_tone", ['page_id' => $fares]);
  update_option('tide_rules', [['type' => 'tide', 'value' => $high], ['type' => 'number', 'value' => $high], ['post_type' => 'page', 'value' => (string) $contact]]);
  // Words beside a number, in ways of words, in data, in names, in JSON that is percent-encoded and in classes.
  $zone = wp_insert_term('North', 'tide_zone', ['slug' => 'north'])['term_id'];
  update_option('tide_where', ['include/all', "include/single/page/$fares", "not/in/tide_zone/$zone", "include/single/tide/$high", "page:$contact", 'on' => ["tide_$high" => 1], 'default_tide' => (string) $high, 'low_tides' => [$high, $low]]);
  update_option('tide_widget', '[gauge label="x" settings="' . rawurlencode(json_encode(['post_id' => (string) $fares, 'link' => "$address/fares/"])) . '"]');
  update_option('tide_css', ".tide-$high .page-id-$contact{background:url(/x.png)}");
  update_option('tide_targets', [['target' => 'page', 'value' => [$fares, $contact]], ['type' => 'image', 'default_value' => there('attachment', 'harbour')]]);
  $GLOBALS['wpdb']->insert("{$GLOBALS['wpdb']->prefix}options", ['option_name' => 'tide_object', 'option_value' => "O:10:\"Tide\\Gauge\":1:{s:19:\"\0Tide\\Gauge\0page_id\";i:$fares;}", 'autoload' => 'no']);
  entry('wp_block', 'gauge', 'Gauge', ['post_content' => "<!-- wp:tide/gauge {\"at\":{\"tide\":$high},\"perPage\":12} /-->"]);
}
