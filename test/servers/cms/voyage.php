<?php
// Files that stand in each other's way, and ids under names that only hint at them: php voyage.php SITE-FOLDER dev|live ADDRESS
require __DIR__ . '/begin.php';
foreach (['vy_leg', 'vy_sail'] as $type) register_post_type($type, ['public' => false]);
foreach (['vy_tongue', 'vy_group'] as $taxonomy) register_taxonomy($taxonomy, ['vy_leg']);
[$fares, $contact, $harbour] = [there('page', 'fares'), there('page', 'contact'), there('attachment', 'harbour')];
skip_ids($dev ? 3 : 77);

// A file of another picture in the way; the same picture under another name; the same file, of which the site has no record.
$mast = plain($dev ? 'mast' : 'other-mast', 'mast', $dev ? [200, 30, 30] : [30, 200, 30]);
$oar = plain($dev ? 'oar' : 'oar-of-old', $dev ? 'oar' : 'old-oar', [30, 30, 200]);
$rope = plain($dev ? 'rope' : '', 'rope', [90, 90, 30]);
if ($dev) {
  // A picture that was painted over.
  $file = get_attached_file($harbour);
  $image = imagecreatetruecolor(900, 500);
  imagefill($image, 0, 0, imagecolorallocate($image, 10, 20, 30));
  imagepng($image, $file);
  wp_update_attachment_metadata($harbour, wp_generate_attachment_metadata($harbour, $file));
  [$leg, $sail] = [entry('vy_leg', 'first', 'First'), entry('vy_sail', 'main', 'Main')];
  [$url, $small] = [wp_get_attachment_url($mast), wp_get_attachment_image_url($mast, 'medium')];
  entry('vy_leg', 'second', 'Second', ['post_content' => "[any_row bg_image=\"$mast\"][any_grid images='$mast,$oar' include=\"$fares, $contact\" exclude=$contact]<img src=\"$small\" class=\"wp-image-$mast\">"], ["by_leg_$leg" => (string) $leg]);
  update_option('vy_main_sail', $sail);
  update_option('vy_set', ['home_pages' => ['en' => $fares, 'ga' => $contact], 'posts' => ['top' => $fares, 'seats' => 3], 'redirect_to' => $fares, 'checkout' => (string) $contact, 'hide_on' => [$fares], 'path' => substr($url, strlen($address)), 'where' => ".page-item-$fares"]);
  $tongue = wp_insert_term('English', 'vy_tongue', ['slug' => 'en'])['term_id'];
  update_option('vy_tongue', "vy_tongue:$tongue");
  wp_insert_term('vy_5f3a', 'vy_group', ['slug' => 'vy_5f3a', 'description' => serialize(['en' => $fares, 'ga' => $contact])]);
  // A block in an area that the CMS has lost, beside one of the same sort.
  update_option('widget_vy', [4 => ['page_id' => $fares], '_multiwidget' => 1]);
  update_option('sidebars_widgets', array_merge(get_option('sidebars_widgets'), ['pier' => ['vy-9', 'vy-4']]));
} else {
  // Here the id of the term is that of an entry too.
  [$term, $leg, $db] = [wp_insert_term('English', 'vy_tongue', ['slug' => 'en'])['term_id'], entry('vy_leg', 'of-the-same-id', 'x'), $GLOBALS['wpdb']];
  foreach ([$db->terms, $db->term_taxonomy] as $table) $db->update($table, ['term_id' => $leg], ['term_id' => $term]);
}
