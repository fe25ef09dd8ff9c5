<?php
// What the CMS has of shapes.php, as JSON: ids are said as whether they are those that are meant.
global $wpdb;
$home = get_option('home');
$id = fn ($type, $name) => get_page_by_path($name, OBJECT, $type)->ID ?? 0;
$row = fn ($type, $name) => $wpdb->get_row($wpdb->prepare("select * from {$wpdb->posts} where post_type = %s and post_name = %s", $type, $name));
[$fares, $contact, $harbour, $first, $second, $quay] = [$id('page', 'fares'), $id('page', 'contact'), $id('attachment', 'harbour'), $id('page', 'fares/crew'), $id('page', 'contact/crew'), $id('attachment', 'quay')];
$north = $wpdb->get_row("select t.term_id, x.description from {$wpdb->terms} t join {$wpdb->term_taxonomy} x using (term_id) where taxonomy = 'berth_area'");
[$map, $links, $locked, $itself] = [get_option('berth_map'), get_option('berth_links'), $row('berth', 'locked'), $row('berth', 'itself')->ID];
echo json_encode([
  'pages' => [$links['first_page'] === $first, $links['second_page'] === $second],
  'links' => [$links['link'] === "$home/contact/crew/", $links['query'] === "$home/?page_id=$second#top", $links['queries'] === "<a href=\"/?post_type=page&amp;p=$fares\">x</a>", str_ends_with($links['elsewhere'], "?p=$fares"), $links['picture'] === "$home/?attachment_id=$harbour"],
  'options' => [get_option('berth_children'), get_option('_berth_hidden')['seats'], get_option('berth_area_children')],
  'json' => get_option('berth_json') === '{"zeta": {"page_id": ' . $fares . ', "ratio": 1.0},"alpha" : "\u00e9", "by_page": {"' . $contact . '": 1, "' . $fares . '": 2}}',
  'pretty' => get_option('berth_pretty') === json_encode(['b' => ['page_id' => $fares], 'a' => true, 'url' => "$home/fares/"], JSON_PRETTY_PRINT),
  'base64' => unserialize(base64_decode(get_option('berth_base64'))) === ['page_id' => $fares, 'dev' => true],
  'states' => [$row('berth', 'shut')->post_status, $row('berth', 'private')->post_status, $row('attachment', 'quay')->post_status],
  'nameless' => $wpdb->get_row("select post_name, post_status from {$wpdb->posts} where post_title = 'No name yet'"),
  'locked' => [$locked->post_password, $locked->post_mime_type, $locked->comment_status, $locked->post_content_filtered === '{"raw":true,"page_id":' . $contact . '}'],
  'tree' => array_map(fn ($one) => get_post($one->post_parent)->post_name . ': ' . $one->post_title, $wpdb->get_results("select post_parent, post_title from {$wpdb->posts} where post_name = 'intro' order by post_title")),
  'templates' => array_map(fn ($one) => wp_get_object_terms($one->ID, 'wp_theme', ['fields' => 'slugs'])[0] . ': ' . strip_tags($one->post_content), $wpdb->get_results("select ID, post_content from {$wpdb->posts} where post_type = 'wp_template_part' order by ID")),
  'terms' => [unserialize($north->description) === ['page_id' => $fares], get_option('berth_areas') === ['categories' => [(int) $north->term_id]]],
  'itself' => get_post_meta($itself, '_berth_self_id', true) === $itself,
  'block' => preg_match('/"queryId":1,"query":\{"perPage":3,"taxQuery":\{"berth_area":\[' . $north->term_id . "\\]\\},\"include\":\\[$fares,$contact\\].*\"images\":\\[\\{\"id\":$harbour,/s", get_post($id('wp_block', 'list'))->post_content),
  'map' => $map === ['pages' => [0 => $fares, 3 => $contact], 'page_ids' => "$fares|$contact", 'nested' => json_encode(['deep' => json_encode(['page_id' => $fares, 'url' => "$home/fares/"])]), 'cover' => ['id' => $harbour], 'rules' => [['param' => 'page', 'value' => (string) $contact]], 'per_page' => $map['per_page']],
  'counted' => $map['per_page'] !== $fares,
  'loaded' => $wpdb->get_var("select autoload from {$wpdb->options} where option_name = 'berth_map'"),
  'navigation' => preg_match("/\"id\":$fares,.*\"id\":{$north->term_id},/s", get_post($id('wp_navigation', 'berth-nav'))->post_content),
  'widget' => get_option('widget_berth') === [2 => ['page_id' => $fares, 'exclude' => "$fares,$contact"], '_multiwidget' => 1] && get_option('sidebars_widgets')['side'] === ['berth-2'],
  'sound' => file_get_contents(get_attached_file($id('attachment', 'horn'))),
  'original' => [basename(wp_get_original_image_path($quay)), file_exists(wp_get_original_image_path($quay))],
]);
