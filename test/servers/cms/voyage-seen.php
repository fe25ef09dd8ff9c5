<?php
// What the CMS has of voyage.php, as JSON: ids are said as whether they are those that are meant.
global $wpdb;
$home = get_option('home');
$id = fn ($type, $name) => (int) $wpdb->get_var($wpdb->prepare("select ID from {$wpdb->posts} where post_type = %s and post_name = %s", $type, $name));
$picture = fn ($name) => $id('attachment', $name);
[$fares, $contact, $mast, $oar] = [$id('page', 'fares'), $id('page', 'contact'), $picture('mast'), $picture('oar-of-old')];
[$leg, $sail, $set] = [$id('vy_leg', 'first'), $id('vy_sail', 'main'), get_option('vy_set')];
$term = fn ($taxonomy, $slug) => $wpdb->get_row($wpdb->prepare("select term_id, description from {$wpdb->terms} join {$wpdb->term_taxonomy} using (term_id) where taxonomy = %s and slug = %s", $taxonomy, $slug));
$file = fn ($id) => get_post_meta($id, '_wp_attached_file', true);
echo json_encode([
  'mast' => [$file($mast), wp_get_attachment_metadata($mast)['file'], wp_get_attachment_metadata($mast)['sizes']['medium']['file'], is_file(WP_CONTENT_DIR . '/uploads/2026/11/mast-2-300x169.png')],
  'oar' => [$picture('oar'), $file($oar)],
  'rope' => $file($picture('rope')),
  'content' => get_post($id('vy_leg', 'second'))->post_content === "[any_row bg_image=\"$mast\"][any_grid images='$mast,$oar' include=\"$fares, $contact\" exclude=$contact]<img src=\"$home/wp-content/uploads/2026/11/mast-2-300x169.png\" class=\"wp-image-$mast\">",
  'names' => get_post_meta($id('vy_leg', 'second'), "by_leg_$leg", true) === (string) $leg,
  'sail' => (int) get_option('vy_main_sail') === $sail,
  'set' => $set === ['home_pages' => ['en' => $fares, 'ga' => $contact], 'posts' => ['top' => $set['posts']['top'], 'seats' => 3], 'redirect_to' => $fares, 'checkout' => (string) $contact, 'hide_on' => [$fares], 'path' => '/wp-content/uploads/2026/11/mast-2.png', 'where' => ".page-item-$fares"],
  // Where one of the members is no id, none is taken for one.
  'mixed' => $set['posts']['top'] === $fares,
  'tongue' => get_option('vy_tongue') === 'vy_tongue:' . $term('vy_tongue', 'en')->term_id,
  'group' => unserialize($term('vy_group', 'vy_5f3a')->description) === ['en' => $fares, 'ga' => $contact],
  'area' => [get_option('sidebars_widgets')['pier'], array_map(fn ($one) => is_array($one) ? $one['page_id'] === $fares : $one, get_option('widget_vy'))],
]);
