<?php
// Begins every script that fills a site: SCRIPT SITE-FOLDER dev|live ADDRESS
[, $folder, $seed, $address] = $argv;
$_SERVER['HTTP_HOST'] = parse_url($address, PHP_URL_HOST) . ':' . parse_url($address, PHP_URL_PORT);
$_SERVER['REQUEST_METHOD'] = 'GET';
$_SERVER['REQUEST_URI'] = '/';
require $folder . '/wp-load.php';
require_once ABSPATH . 'wp-admin/includes/image.php';
add_filter('pre_http_request', fn () => new WP_Error('no network'));
add_filter('pre_wp_mail', '__return_false');
$dev = $seed === 'dev';

/** The two sites have had different lives: ids must not be alike. */
function skip_ids(int $count): void { for ($i = 0; $i < $count; $i++) wp_delete_post(wp_insert_post(['post_title' => "gone $i", 'post_status' => 'publish']), true); }

function there(string $type, string $name): int { return get_page_by_path($name, OBJECT, $type)->ID; }

function entry(string $type, string $name, string $title, array $more = [], array $fields = []): int {
  $id = wp_insert_post(wp_slash($more + ['post_type' => $type, 'post_name' => $name, 'post_title' => $title, 'post_status' => 'publish']), true);
  if (is_wp_error($id)) throw new Exception($id->get_error_message());
  foreach ($fields as $key => $value) add_post_meta($id, $key, wp_slash($value));
  return $id;
}

/** A picture of one colour at a path of this month, with its record, unless it gets no name. */
function plain(string $name, string $file, array $colour = [0, 0, 0]): int {
  $path = wp_upload_dir('2026/11')['path'] . "/$file.png";
  $image = imagecreatetruecolor(640, 360);
  imagefill($image, 0, 0, imagecolorallocate($image, ...$colour));
  imagepng($image, $path);
  if ($name === '') return 0;
  $id = wp_insert_attachment(['post_title' => ucfirst($name), 'post_name' => $name, 'post_mime_type' => 'image/png', 'post_status' => 'inherit'], $path);
  wp_update_attachment_metadata($id, wp_generate_attachment_metadata($id, $path));
  return $id;
}
