<?php
// Entries and values in shapes that are rarer: php shapes.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
global $wpdb;
$p = $wpdb->prefix;
register_post_type('berth', ['public' => false]);
register_post_type('berth_tree', ['public' => false, 'hierarchical' => true]);
register_taxonomy('berth_area', ['berth'], ['hierarchical' => true]);
register_post_status('shut', ['label' => 'Shut']);
[$fares, $contact, $harbour] = [there('page', 'fares'), there('page', 'contact'), there('attachment', 'harbour')];
skip_ids($dev ? 0 : 51);

// Pages of one name in two places, and every way to say which of them is meant.
[$first, $second] = [entry('page', 'crew', 'Crew of fares', ['post_parent' => $fares]), entry('page', 'crew', 'Crew of contact', ['post_parent' => $contact])];
update_option('berth_links', $dev ? ['first_page' => $first, 'second_page' => $second, 'link' => "$address/contact/crew/", 'query' => "$address/?page_id=$second#top", 'queries' => "<a href=\"/?post_type=page&amp;p=$fares\">x</a>", 'elsewhere' => "https://other.example/?p=$fares", 'picture' => "$address/?attachment_id=$harbour"] : []);
// Names that caches have too, and that hidden options have.
update_option('berth_children', $dev ? '6.5' : '5');
update_option('_berth_hidden', ['seats' => $dev ? 5 : 3]);
if (!$dev) update_option('berth_area_children', [1 => [2]]);
// JSON as people and programs write it, and packed once more.
update_option('berth_json', $dev ? '{"zeta": {"page_id": ' . $fares . ', "ratio": 1.0},"alpha" : "\u00e9", "by_page": {"' . $contact . '": 1, "' . $fares . '": 2}}' : '{}');
update_option('berth_pretty', json_encode(['b' => ['page_id' => $fares], 'a' => $dev, 'url' => "$address/fares/"], JSON_PRETTY_PRINT));
update_option('berth_base64', base64_encode(serialize(['page_id' => $fares, 'dev' => $dev])));
if ($dev) {
  entry('berth', 'shut', 'Shut', ['post_status' => 'shut']);
  entry('berth', 'private', 'Private', ['post_status' => 'private']);
  entry('berth', 'locked', 'Locked', ['post_password' => 'sesame', 'post_content_filtered' => '{"raw":true,"page_id":' . $contact . '}', 'post_mime_type' => 'berth/plan', 'comment_status' => 'open']);
  entry('berth', '', 'No name yet', ['post_status' => 'draft']);
  [$one, $two] = [entry('berth_tree', 'one', 'One'), entry('berth_tree', 'two', 'Two')];
  entry('berth_tree', 'intro', 'Intro of one', ['post_parent' => $one]);
  entry('berth_tree', 'intro', 'Intro of two', ['post_parent' => $two]);
  // Names of templates are one in each theme only.
  foreach (['skerrin-isles', 'skerrin'] as $theme) {
    $wpdb->insert("{$p}posts", ['post_type' => 'wp_template_part', 'post_name' => 'header', 'post_title' => "Header of $theme", 'post_status' => 'publish', 'post_content' => "<p>$theme</p>", 'post_excerpt' => '', 'to_ping' => '', 'pinged' => '', 'post_content_filtered' => '']);
    wp_set_object_terms($wpdb->insert_id, $theme, 'wp_theme');
  }
  $north = wp_insert_term('North', 'berth_area', ['slug' => 'north', 'description' => serialize(['page_id' => $fares])])['term_id'];
  $itself = entry('berth', 'itself', 'Itself');
  add_post_meta($itself, '_berth_self_id', $itself);
  entry('wp_block', 'list', 'List', ['post_content' => "<!-- wp:query {\"queryId\":1,\"query\":{\"perPage\":3,\"taxQuery\":{\"berth_area\":[$north]},\"include\":[$fares,$contact]}} -->\n<div></div>\n<!-- /wp:query --><!-- wp:berth/gallery {\"images\":[{\"id\":$harbour,\"url\":\"" . wp_get_attachment_url($harbour) . "\"}]} /-->"]);
  // Lists with gaps and with bars, JSON in JSON, and values that say beside them what they are; not loaded with every page.
  add_option('berth_map', ['pages' => [0 => $fares, 3 => $contact], 'page_ids' => "$fares|$contact", 'nested' => json_encode(['deep' => json_encode(['page_id' => $fares, 'url' => "$address/fares/"])]), 'cover' => ['id' => $harbour], 'rules' => [['param' => 'page', 'value' => (string) $contact]], 'per_page' => $fares], '', 'no');
  entry('wp_navigation', 'berth-nav', 'Main', ['post_content' => "<!-- wp:navigation-link {\"type\":\"page\",\"id\":$fares,\"url\":\"$address/fares/\",\"kind\":\"post-type\"} /-->\n<!-- wp:navigation-link {\"type\":\"berth_area\",\"id\":$north,\"url\":\"#\",\"kind\":\"taxonomy\"} /-->"]);
  // A sort of blocks in areas that the other site has never had.
  update_option('widget_berth', [7 => ['page_id' => $fares, 'exclude' => "$fares,$contact"], '_multiwidget' => 1]);
  update_option('sidebars_widgets', get_option('sidebars_widgets') + ['side' => ['berth-7']]);
  $horn = wp_upload_dir('2026/10')['path'] . '/horn.mp3';
  file_put_contents($horn, 'ID3 made up');
  wp_insert_attachment(['post_title' => 'Horn', 'post_name' => 'horn', 'post_mime_type' => 'audio/mpeg', 'post_status' => 'inherit'], $horn);
  update_option('berth_areas', ['categories' => [$north]]);
  // A large picture, of which the original is kept beside.
  $image = imagecreatetruecolor(3000, 1800);
  $file = wp_upload_dir('2026/09')['path'] . '/quay.jpg';
  imagejpeg($image, $file);
  $large = wp_insert_attachment(['post_title' => 'The quay', 'post_name' => 'quay', 'post_mime_type' => 'image/jpeg', 'post_status' => 'inherit'], $file);
  wp_update_attachment_metadata($large, wp_generate_attachment_metadata($large, $file));
}
