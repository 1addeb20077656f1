// "The Last Boat to Vell": a letter unfolds itself on a desk. Invented. One unit is one metre.
// Declared from the command line: QUICK, LETTER (0|1), UP LOW (degrees its upper and lower flap are folded by), WOBBLE (a seed for what
// a hand moves between two exposures), RIG (0 = none, 1 = right, 2 = left), MATTE (the rig alone, its coverage as alpha).
#version 3.7;
#include "common.inc"
#ifndef(LETTER) #declare LETTER=0; #end
#ifndef(UP) #declare UP=176; #end
#ifndef(LOW) #declare LOW=176; #end
#ifndef(WOBBLE) #declare WOBBLE=1; #end
#ifndef(RIG) #declare RIG=0; #end
#ifndef(MATTE) #declare MATTE=0; #end
global_settings { assumed_gamma 1 max_trace_level 4 adc_bailout .02 }
camera { location <.015,.655,-.60> right x*16/9 look_at <.012,.012,.012> angle 39 }

#if (!MATTE)
// ---- the desk ------------------------------------------------------------------------------------------------
#declare Walnut = texture {
  pigment { wood turbulence <.05,.04,.16> octaves 6 omega .55 scale <.05,.05,.6> rotate <2,88,0> translate <.3,.11,.2> color_map { [0 rgb <.085,.042,.020>] [.4 rgb <.15,.082,.041>] [.75 rgb <.115,.06,.03>] [1 rgb <.055,.026,.013>] } }
  normal { granite .03 scale <.35,.02,.02> } finish { diffuse .7 specular .20 roughness .02 reflection { .01,.12 } } };
#declare Leather = texture {
  pigment { granite scale .11 color_map { [0 rgb <.020,.046,.036>] [.5 rgb <.030,.064,.048>] [1 rgb <.044,.082,.060>] } }
  normal { average normal_map { [1.2 crackle .32 scale .0032] [1 bumps .25 scale .0045] [.5 wrinkles .1 scale .06] } } finish { diffuse .75 specular .13 roughness .06 } };
#declare Brass = texture { pigment { granite scale .03 color_map { [0 rgb <.36,.235,.085>] [1 rgb <.47,.32,.125>] } } normal { granite .04 scale .01 } finish { diffuse .38 specular .7 roughness .015 metallic reflection { .18,.4 metallic } } };
plane { y,-.0022 texture { Walnut } }
superellipsoid { <.04,.5> scale <.345,.0022,.235> translate <-.005,-.0011,.02> texture { Leather } }
#for (k,0,1) #local W=.3275-k*.0052; #local D=.2175-k*.0052; #local B=.0009-k*.0003;
  #for (e,-1,1,2) box { <-W,.0010,e*D-B> <W,.00132,e*D+B> texture { Brass } translate <-.005,0,.02> } box { <e*W-B,.0010,-D> <e*W+B,.00132,D> texture { Brass } translate <-.005,0,.02> } #end #end
// an ink bottle, a pen on its rest, a letter knife, a stick of wax with a seal, a book's corner, a slip with notes
union {
  superellipsoid { <.18,.12> scale <.026,.019,.026> translate .019*y pigment { rgb <.012,.016,.022> } finish { diffuse .5 specular .8 roughness .006 reflection { .03,.4 } } }
  object { Turned(array[7] { <.015,.037>,<.0135,.042>,<.0135,.048>,<.0165,.050>,<.0165,.055>,<.0145,.056>,<.0,.0565> }, 28, 36) pigment { rgb <.02,.025,.03> } finish { diffuse .5 specular .8 roughness .006 reflection { .03,.3 } } }
  object { Turned(array[7] { <.0175,.056>,<.018,.058>,<.018,.066>,<.015,.071>,<.008,.074>,<.003,.078>,<.0,.079> }, 28, 36) texture { Brass } }
  rotate 21*y translate <-.238,0,.178>
}
union {
  cylinder { <-.085,0,0> <.045,0,0>,.0034 pigment { wood scale .003 rotate 90*y color_map { [0 rgb <.16,.035,.025>] [1 rgb <.22,.055,.04>] } } finish { diffuse .7 specular .5 roughness .01 } }
  cone { <-.13,0,0>,.0018 <-.085,0,0>,.0034 pigment { rgb <.19,.045,.033> } finish { diffuse .7 specular .5 roughness .01 } }
  cylinder { <.045,0,0> <.062,0,0>,.0038 texture { Brass } }
  cone { <.062,0,0>,.0031 <.092,-.003,0>,.0006 texture { pigment { rgb <.2,.19,.18> } finish { specular .8 roughness .01 metallic reflection .2 } } }
  rotate <0,-31,2.4> translate <-.205,.0075,.062>
}
union {
  intersection { sphere { 0,1 scale <.105,.0022,.0095> } plane { -x,.02 } texture { Brass } }
  cylinder { <-.02,0,0> <-.033,0,0>,.0052 texture { Brass } }
  object { Turned(array[6] { <.004,0>,<.0062,.010>,<.0055,.028>,<.0075,.045>,<.006,.056>,<0,.060> }, 26, 28) rotate 90*z translate <-.032,0,0> pigment { granite scale .02 color_map { [0 rgb <.055,.035,.022>] [1 rgb <.12,.08,.05>] } } finish { diffuse .6 specular .6 roughness .01 } }
  rotate 58*y translate <.255,.0062,.105>
}
superellipsoid { <.2,.15> scale <.042,.0045,.0048> rotate <0,17,0> translate <-.225,.0045,-.075> pigment { granite scale .02 color_map { [0 rgb <.27,.018,.014>] [1 rgb <.34,.026,.02>] } } finish { diffuse .7 specular .6 roughness .02 }
}
box { <0,0,0> <.20,.022,.15> pigment { gradient y scale .0016 turbulence .03 color_map { [0 rgb <.50,.45,.34>] [1 rgb <.38,.33,.24>] } } rotate -11*y translate <.265,0,.135> }
box { <-.004,.022,-.004> <.22,.0255,.16> texture { pigment { granite scale .08 color_map { [0 rgb <.10,.028,.022>] [1 rgb <.145,.042,.032>] } } normal { bumps .2 scale .002 } finish { diffuse .7 specular .15 roughness .05 } } rotate -11*y translate <.265,0,.135> }
box { <-.004,0,-.004> <.22,.0032,.16> pigment { rgb <.1,.03,.024> } rotate -11*y translate <.265,0,.135> }

// ---- the letter: a sheet folded in three, its flaps turned about their folds ------------------------------------
#end
#declare RW=seed(WOBBLE*17+3);
#declare Jx=(rand(RW)-.5)*.0005; #declare Jz=(rand(RW)-.5)*.0005; #declare Ja=(rand(RW)-.5)*.25;
#declare SL=.268; #declare SWd=.19; #declare F1=SL*.335; #declare F2=SL*.662;
// follows the sheet from one fold outwards: the bend, then a flap that keeps a little of its curl
#macro Follow(S, Turn, Bend) // metres past the fold → <along, up>
  #local Q=28; #local P=<0,0>; #local D=S/Q;
  #for (qi,1,Q)
    #local U=(qi-.5)*D; #local A=Turn*min(1,U/Bend) - (1-Turn/pi)*(Turn<2.6?1:0)*.9*max(0,U-Bend)/SL*2.2*min(1,Turn*1.2);
    #local P=P+D*<cos(A),sin(A)>;
  #end
  P
#end
#declare TU=UP*pi/180; #declare TL=LOW*pi/180;
#macro Sheet_at(S, X)   // metres along the sheet from its lower edge, and across
  #if (S<F1) #local P=Follow(F1-S, TL, .0035); #local R=<X, .0012+P.v, F1-P.u-SL/2>;
  #else #if (S>F2) #local P=Follow(S-F2, TU, .0075); #local R=<X, .0012+P.v, F2+P.u-SL/2>;
  #else #local R=<X, .0012+.0006*sin((S-F1)/(F2-F1)*pi), S-SL/2>; #end #end
  (R + y*(.0016*pow(abs(X)/SWd*2,2)*(.5+.5*sin(S*31))))
#end
#macro On_desk(P) (vrotate(P,(-7+Ja)*y)+<.008+Jx,0,.028+Jz>) #end
#if (LETTER & !MATTE)
#declare NS=84; #declare NX=8;
#declare GP=array[NS+1][NX+1];
#for (i,0,NS) #local S=SL*i/NS; #local R0=Sheet_at(S,0);
  #for (j,0,NX) #local X=(j/NX-.5)*SWd; #declare GP[i][j]=<X,R0.y+.0016*pow(abs(X)/SWd*2,2)*(.5+.5*sin(S*31)),R0.z>; #end #end
#declare GN=array[NS+1][NX+1];
#for (i,0,NS) #for (j,0,NX)
  #local Da=GP[min(NS,i+1)][j]-GP[max(0,i-1)][j]; #local Db=GP[i][min(NX,j+1)]-GP[i][max(0,j-1)];
  #declare GN[i][j]=vnormalize(vcross(Da,Db));
#end #end
mesh {
  #for (i,0,NS-1) #for (j,0,NX-1)
    smooth_triangle { GP[i][j],GN[i][j], GP[i+1][j],GN[i+1][j], GP[i+1][j+1],GN[i+1][j+1] uv_vectors <j/NX,i/NS>,<j/NX,(i+1)/NS>,<(j+1)/NX,(i+1)/NS> }
    smooth_triangle { GP[i][j],GN[i][j], GP[i+1][j+1],GN[i+1][j+1], GP[i][j+1],GN[i][j+1] uv_vectors <j/NX,i/NS>,<(j+1)/NX,(i+1)/NS>,<(j+1)/NX,i/NS> }
  #end #end
  texture { uv_mapping pigment { image_map { png "letter-ink.png" interpolate 2 } } normal { wrinkles .10 scale .06 } finish { diffuse .80 } }
  interior_texture { uv_mapping pigment { granite scale .4 color_map { [0 rgb <.60,.545,.42>] [1 rgb <.66,.605,.48>] } } normal { wrinkles .10 scale .06 } finish { diffuse .80 } }
  rotate (-7+Ja)*y translate <.008+Jx,0,.028+Jz>
}
#end

// ---- the rig: a block of putty, a bent wire, a dab where it holds the paper ----------------------------------------
#if (RIG)
#local Side=(RIG=1?1:-1);
#if (RIG=1) #local Tip0=Sheet_at(SL-.004, 0); #else #local Tip0=Sheet_at(.004, 0); #end
#local Tip=On_desk(<Side*(SWd/2-.003), Tip0.y+.0012, Tip0.z>);
#local Foot=<Side*.172+.012,0,.035+(RIG=1?.045:-.055)>;
union {
  intersection {
    blob { threshold .5 sphere { <0,.010,0>,.030,1 scale <1.05,.9,.9> } sphere { <.010,.011,.007>,.022,.8 } sphere { <-.012,.009,-.006>,.021,.8 } sphere { <.003,.022,-.002>,.014,.6 } }
    plane { -y,0 }
    texture { pigment { granite scale .02 color_map { [0 rgb <.20,.255,.24>] [.6 rgb <.265,.325,.30>] [1 rgb <.31,.37,.345>] } } normal { average normal_map { [1 wrinkles .7 scale .012] [1 bumps .5 scale .006] } } finish { diffuse .8 specular .10 roughness .07 } }
    translate Foot
  }
  object { Wire(array[6] { Foot+<0,.015,0>, Foot+<Side*.006,.05,.001>, Foot+<Side*.003,.085,.000>, (Foot*.55+Tip*.45)*<1,0,1>+y*(max(.098,Tip.y+.035)), Tip*.85+(Foot*<1,0,1>+y*Tip.y)*.15+y*.012, Tip }, .0011, 44)
    texture { pigment { rgb <.24,.23,.22> } normal { granite .1 scale .003 } finish { diffuse .5 specular .8 roughness .02 metallic reflection { .05,.25 metallic } } } }
  sphere { 0,1 scale <.0042,.0026,.0036> translate Tip pigment { granite scale .01 color_map { [0 rgb <.22,.275,.26>] [1 rgb <.30,.36,.335>] } } normal { bumps .5 scale .002 } finish { diffuse .8 } }
}
#end
// ---- light: a window on the left, a lamp on the right, the room -----------------------------------------------------
light_source { <-1.5,1.35,.55> rgb <.74,.85,1.0>*1.5 Area(<0,.55,0>,<.25,0,.6>,4) }
light_source { <.85,.95,.55> rgb <1,.74,.44>*.66 #if (!QUICK) area_light <.07,0,0>,<0,0,.07>,2,2 jitter #end }
light_source { <.1,2.6,-1.1> rgb <.55,.52,.48>*.26 shadowless }
#if (!MATTE) sky_sphere { pigment { gradient x color_map { [0 rgb <.75,.85,1>*.8] [.35 rgb <.14,.12,.10>] [1 rgb <.2,.15,.1>] } scale 2 translate -1 } } #end
