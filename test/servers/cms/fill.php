<?php
// Fills one site through the CMS's own interface: php fill.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
wp_set_current_user(1);

skip_ids($dev ? 40 : 7);

function picture(string $name, string $title, int $hue, int $width = 900, int $height = 500): int {
  $image = imagecreatetruecolor($width, $height);
  $sky = imagecolorallocate($image, 200 - $hue, 220, 240);
  $sea = imagecolorallocate($image, 20, 80 + $hue, 140);
  imagefill($image, 0, 0, $sky);
  imagefilledrectangle($image, 0, intdiv($height, 2), $width, $height, $sea);
  imagefilledellipse($image, 300 + $hue * 2, intdiv($height, 2), 260, 90, imagecolorallocate($image, 240, 240, 230));
  $uploads = wp_upload_dir('2026/10');
  $file = $uploads['path'] . "/$name.png";
  imagepng($image, $file);
  $id = wp_insert_attachment(['post_title' => $title, 'post_name' => $name, 'post_mime_type' => 'image/png', 'post_status' => 'inherit'], $file);
  wp_update_attachment_metadata($id, wp_generate_attachment_metadata($id, $file));
  update_post_meta($id, '_wp_attachment_image_alt', $title);
  return $id;
}

// What a fresh installation brings is not ours.
foreach (get_posts(['post_type' => ['post', 'page'], 'post_status' => 'any', 'numberposts' => -1]) as $brought) wp_delete_post($brought->ID, true);
entry('post', 'first-sailing', 'First sailing', ['post_content' => '<p>The first ferry of the season has left the harbour.</p>']);

// Content: on both sites, at other ids.
$pages = [];
foreach (['fares' => 'Fares', 'timetable' => 'Timetable', 'contact' => 'Contact'] as $name => $title) $pages[$name] = entry('page', $name, $title, ['post_content' => "<p>$title of Skerrin Ferries.</p>"]);
$pages['islands'] = entry('page', 'islands', 'Islands', ['post_parent' => $pages['timetable'], 'post_content' => '<p>Every island.</p>']);

// Pictures, with their sizes.
$harbour = picture('harbour', 'The harbour', 10);
$vessel = $dev ? picture('vessel', 'A vessel — Ænd', 60) : 0;
$harbourUrl = wp_get_attachment_url($harbour);

// Reusable blocks, embedded by id.
$notice = entry('wp_block', 'storm-notice', 'Storm notice', ['post_content' => "<!-- wp:paragraph -->\n<p>" . ($dev ? 'Crossings may be late; see <a href="' . $address . '/timetable/islands/">the timetable</a>.' : 'Crossings may be late.') . "</p>\n<!-- /wp:paragraph -->"]);
if ($dev) {
  $banner = entry('wp_block', 'banner', 'Banner', ['post_content' =>
    "<!-- wp:image {\"id\":$vessel,\"sizeSlug\":\"medium\"} -->\n<figure class=\"wp-block-image size-medium\"><img src=\"" . wp_get_attachment_image_url($vessel, 'medium') . "\" alt=\"A vessel\" class=\"wp-image-$vessel\"/></figure>\n<!-- /wp:image -->\n<!-- wp:block {\"ref\":$notice} /-->\n<p>[board id=\"0\" title=\"x\"]</p>"]);
}

// Templates: JSON in attribute rows; two that link to each other.
$layout = fn (array $more) => json_encode(['bands' => [['kind' => 'hero', 'image' => ['id' => $harbour, 'url' => $harbourUrl]], ['kind' => 'text', 'text' => "Sails from $address/fares/ — “daily”"]], 'colour' => '#0b4f6c'] + $more);
$winter = entry('board_template', 'winter', 'Winter board', [], ['_board_layout' => $layout(['season' => 'winter', 'columns' => $dev ? 3 : 2])]);
if ($dev) {
  $summer = entry('board_template', 'summer', 'Summer board', [], ['_board_layout' => $layout(['season' => 'summer', 'next_template' => $winter]), '_board_footer' => "<p>See [board id=\"$winter\"]</p>", '_board_image_ids' => "$harbour,$vessel", '_board_backdrop' => ['picture' => ['id' => $vessel, 'url' => wp_get_attachment_url($vessel), 'x' => $vessel]]]);
  // Ids of terms and ids of their place in a taxonomy need not be alike.
  $wpdb->insert($wpdb->terms, ['name' => 'gone', 'slug' => 'gone']); $wpdb->delete($wpdb->terms, ['slug' => 'gone']);
  $above = wp_insert_term('All year', 'board_season', ['slug' => 'all-year'])['term_id'];
  $season = wp_insert_term('Seasonal', 'board_season', ['slug' => 'seasonal', 'parent' => $above])['term_id'];
  add_term_meta($season, 'colour', '#fc0');
  wp_set_object_terms($summer, [$season], 'board_season');
  update_post_meta($winter, '_board_layout', wp_slash($layout(['season' => 'winter', 'columns' => 3, 'next_template' => $summer])));
  entry('board_template', 'draft-board', 'A draft', ['post_status' => 'draft'], ['_board_layout' => $layout(['season' => 'none'])]);
}

// Settings in nested serialised options.
update_option('harbour_desk', [
  'pages' => ['fares_page' => $pages['fares'], 'contact_page' => (string) $pages['contact']],
  'mail' => ['sender' => $dev ? 'dev@skerrin.example' : 'desk@skerrin.example', 'body' => $dev ? "Booked on $address/fares/ — välkommen" : "Booked on $address/fares/"],
  'limits' => ['seats' => $dev ? 12 : 9, 'ratio' => 0.75, 'whole' => 2.0, 'open' => true, 'note' => null],
  'packed' => serialize(['home' => $address, 'template_id' => $winter]),
  'order' => ['b' => 1, 'a' => 2],
  'api_key' => $dev ? 'dev-key-111' : 'live-key-999',
]);
if ($dev) add_role('purser', 'Purser', ['read' => true, 'sell_tickets' => true]);
// Content types, all in one option.
update_option('crossing_types', ['vessel' => ['label' => 'Vessels', 'slug' => 'vessel', 'supports' => ['title', 'thumbnail'], 'template_id' => $winter]]
  + ($dev ? ['crossing' => ['label' => 'Crossings', 'slug' => 'crossing', 'supports' => ['title'], 'template_id' => $summer, 'icon' => $harbourUrl]] : ['lighthouse' => ['label' => 'Lighthouses', 'slug' => 'lighthouse', 'supports' => []]]));
// Settings in rows with a common beginning.
foreach (['size' => $dev ? 'large' : 'small', 'rows' => '4', 'page' => (string) $pages['timetable']] + ($dev ? ['accent' => 'teal'] : []) as $key => $value) update_option("crossing_board_list_$key", $value);
// Field sets: entries with serialised content.
entry('field_set', 'crossing-fields', 'Crossing fields', ['post_content' => serialize(['location' => 'crossing', 'fields' => array_merge([['key' => 'seats', 'label' => 'Seats', 'max' => $dev ? 340 : 210], ['key' => 'board', 'label' => 'Board', 'template_id' => $winter]], $dev ? [['key' => 'ferry', 'label' => 'Fähre', 'image_id' => $harbour]] : [])])]);
// Flows: parent and child entries.
$flow = entry('flow', 'booking', 'Booking');
$steps = $dev ? ['choose' => 'Choose a crossing', 'seats' => 'Seats', 'pay' => 'Pay'] : ['choose' => 'Choose', 'pay' => 'Pay'];
$i = 0;
foreach ($steps as $name => $title) entry('flow_step', "booking-$name", $title, ['post_parent' => $flow, 'menu_order' => ++$i], ['_step_settings' => ['template_id' => $winter, 'page_id' => $pages['fares']], '_step_kind' => $name]);

// A menu with nested entries, in its position.
$menu = wp_create_nav_menu('Main menu');
$item = fn (array $args) => wp_update_nav_menu_item($menu, 0, $args + ['menu-item-status' => 'publish']);
$first = $item(['menu-item-type' => 'post_type', 'menu-item-object' => 'page', 'menu-item-object-id' => $pages['timetable'], 'menu-item-title' => 'Timetable', 'menu-item-position' => 1]);
if ($dev) {
  $item(['menu-item-type' => 'post_type', 'menu-item-object' => 'page', 'menu-item-object-id' => $pages['islands'], 'menu-item-title' => 'Islands', 'menu-item-parent-id' => $first, 'menu-item-position' => 2]);
  $item(['menu-item-type' => 'custom', 'menu-item-url' => "$address/fares/", 'menu-item-title' => 'Book now', 'menu-item-position' => 3]);
  $item(['menu-item-type' => 'post_type', 'menu-item-object' => 'board_template', 'menu-item-object-id' => $summer, 'menu-item-title' => 'Summer', 'menu-item-position' => 5]);
  $item(['menu-item-type' => 'taxonomy', 'menu-item-object' => 'board_season', 'menu-item-object-id' => $season, 'menu-item-title' => 'In season', 'menu-item-position' => 6]);
  $item(['menu-item-type' => 'post_type', 'menu-item-object' => 'page', 'menu-item-object-id' => $pages['contact'], 'menu-item-title' => 'Contact', 'menu-item-position' => 4]);
}
// Theme options of the child and of the parent theme.
update_option('theme_mods_skerrin-isles', ['nav_menu_locations' => ['main' => $menu], 'custom_logo' => $harbour, 'accent' => $dev ? '#aa3311' : '#113355', 'banner_text' => $dev ? 'Winter is here' : 'Welcome', 'sidebars_widgets' => ['time' => 1, 'data' => []]]);
update_option('theme_mods_skerrin', ['accent' => $dev ? '#000011' : '#000000']);
// Blocks placed in areas.
update_option('widget_text', ($dev ? [3 => ['title' => 'Weather', 'text' => "<p>See <a href=\"$address/timetable/\">the timetable</a></p>", 'filter' => true, 'visual' => true]] : []) + [2 => ['title' => 'Hours', 'text' => $dev ? 'Nine to six' : 'Nine to five', 'filter' => true, 'visual' => true], '_multiwidget' => 1]);
update_option('widget_block', ($dev ? [5 => ['content' => "<!-- wp:block {\"ref\":$banner} /-->"]] : []) + ['_multiwidget' => 1]);
update_option('widget_nav_menu', [2 => ['title' => 'Menu', 'nav_menu' => $menu], '_multiwidget' => 1]);
update_option('sidebars_widgets', ['wp_inactive_widgets' => [], 'footer' => $dev ? ['text-2', 'text-3', 'block-5', 'nav_menu-2'] : ['text-2', 'nav_menu-2'], 'array_version' => 3]);
// The hidden record with the colours and fonts of the whole site.
$style = entry('wp_global_styles', 'wp-global-styles-skerrin-isles', 'Custom Styles', ['post_content' => json_encode(['version' => 2, 'isGlobalStylesUserThemeJSON' => true, 'styles' => ['color' => ['background' => $dev ? '#f2f7f9' : '#ffffff']], 'settings' => ['custom' => ['logo' => $harbourUrl]]])]);
wp_set_object_terms($style, 'skerrin-isles', 'wp_theme');
// Things that only this site has, and that nobody carries.
update_option('blogdescription', $dev ? 'development copy' : 'Between the islands since 1974');
set_transient('board_cache', ['built' => time()], 3600);
wp_insert_comment(['comment_post_ID' => $pages['fares'], 'comment_content' => "From the $seed site", 'comment_author' => 'Isbel']);
flush_rewrite_rules();
