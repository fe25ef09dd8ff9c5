<?php
/*
Plugin Name: Crossing Board
Version: 2.4.0
*/
add_action('init', function () {
  register_post_type('board_template', ['public' => true, 'label' => 'Boards']);
  register_taxonomy('board_season', 'board_template', ['public' => true, 'hierarchical' => true]);
  foreach (get_option('crossing_types', []) as $slug => $type) register_post_type($slug, ['public' => true, 'label' => $type['label'], 'has_archive' => true]);
  add_shortcode('board', fn ($given) => '<div class="board" data-board="' . esc_attr($given['id'] ?? '') . '">' . esc_html(get_the_title((int) ($given['id'] ?? 0))) . '</div>');
});
