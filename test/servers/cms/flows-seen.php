<?php
// The flows of gantry.php, as JSON: their steps in order with the next one of each, and what the flow says they are.
foreach (['gn_flow', 'gn_step'] as $type) register_post_type($type, ['public' => true, 'hierarchical' => $type === 'gn_step']);
$flow = function (string $name) {
  $flow = get_page_by_path($name, OBJECT, 'gn_flow');
  if (!$flow) return null;
  $steps = get_posts(['post_type' => 'gn_step', 'post_parent' => $flow->ID, 'orderby' => 'menu_order', 'order' => 'ASC', 'numberposts' => -1]);
  return [array_map(fn ($step) => [$step->post_name, get_post((int) get_post_meta($step->ID, 'gn_next_step', true) ?: -1)?->post_title], $steps), array_map(fn ($one) => get_post($one['id'])->post_title, get_post_meta($flow->ID, 'gn_steps', true))];
};
echo json_encode(array_map($flow, ['book', 'ask', 'pier']));
