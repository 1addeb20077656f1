// "The Last Boat to Vell": the quay in the late afternoon. Invented place. One unit is one metre.
// Declared from the command line: QUICK, T (seconds, moves the water and the boat), TRUCK (1 = the loaded one, 2 = the empty one),
// TX TZ (where its middle is), TDIR (1 to the right, -1 to the left), ROLL (degrees of its wheels), and PART, what is drawn:
// 0 = the whole set without boat and truck, 1 = the truck alone, 2 = its shadow on even grey ground, 3 = that ground without it,
// 4 = sky, far shore, water and boat, 5 = the quay alone. What is drawn alone carries its coverage as alpha.
#version 3.7;
#include "common.inc"
#ifndef(PART) #declare PART=0; #end
#ifndef(T) #declare T=0; #end
#ifndef(TRUCK) #declare TRUCK=0; #end
#ifndef(TX) #declare TX=0; #end
#ifndef(TZ) #declare TZ=.5; #end
#ifndef(TDIR) #declare TDIR=1; #end
#ifndef(ROLL) #declare ROLL=0; #end
global_settings { assumed_gamma 1 max_trace_level 5 }
camera { location <.4,2.35,-9.2> right x*16/9 look_at <.1,1.28,0> angle 48 }

#declare Stone2 = pigment { granite scale 3 color_map { [0 rgb <.17,.16,.145>] [1 rgb <.31,.29,.26>] } };
#declare Iron = texture { pigment { granite scale .12 color_map { [0 rgb <.025,.024,.024>] [.6 rgb <.05,.046,.043>] [1 rgb <.13,.075,.045>] } } normal { granite .16 scale .05 } finish { diffuse .65 specular .3 roughness .05 } };
#declare Hemp = texture { pigment { granite scale .03 color_map { [0 rgb <.23,.18,.11>] [1 rgb <.40,.33,.22>] } } normal { gradient x 1.1 scale .045 rotate 45*y } finish { diffuse .8 } };
// ---- sky, far hills, haze --------------------------------------------------------------------------------
#declare Deep = pigment { gradient y color_map { [0 rgb <.80,.70,.56>] [.05 rgb <.70,.68,.63>] [.14 rgb <.46,.54,.61>] [.4 rgb <.20,.32,.48>] [.8 rgb <.11,.2,.36>] } };
#declare Cloud = pigment { wrinkles turbulence .55 octaves 7 lambda 2.5 omega .58 scale <.55,.085,.55> translate <2.35,.02,.4>
    color_map { [0 rgbt <1.0,.90,.76,.1>*.93] [.22 rgbt <.74,.70,.67,.30>] [.42 rgbt <.62,.63,.66,.62>] [.62 rgbt <.7,.7,.7,1>] [1 rgbt <1,1,1,1>] } };
#if (PART=0 | PART=4) sky_sphere { pigment { Deep } pigment { Cloud } }
#else sphere { 0,1 hollow texture { pigment { Deep } finish { emission 1 diffuse 0 } } texture { pigment { Cloud } finish { emission 1 diffuse 0 } } scale 900 no_image no_shadow } #end
#macro Ridge(Z, H, S, Col)
  #local R=seed(S);
  #local F=function { pattern { granite scale 520 translate <S*31,0,0> } };
  #local N=220;
  mesh {
    #for (i,0,N-1)
      #local XA=(i/N-.5)*Z*1.5; #local XB=((i+1)/N-.5)*Z*1.5;
      #local YA=-2+H*(.25+F(XA,0,Z)*(.6+.4*sin(XA/Z*5+S))); #local YB=-2+H*(.25+F(XB,0,Z)*(.6+.4*sin(XB/Z*5+S)));
      triangle { <XA,-3,Z-20>,<XB,-3,Z-20>,<XB,YB,Z> } triangle { <XA,-3,Z-20>,<XB,YB,Z>,<XA,YA,Z> }
    #end
    texture { pigment { granite scale <26,7,26> turbulence .2 color_map { [0 rgb Col*.975] [.5 rgb Col] [1 rgb Col*1.02] } } finish { diffuse .12 emission .75 } }
  }
#end
#if (PART=0 | PART=4)
Ridge(620, 58, 3, <.49,.52,.54>)
Ridge(330, 22, 7, <.335,.375,.375>)
// the mole opposite, with its sheds and a light
box { <-120,-3,88> <70,.6,96> pigment { gradient y turbulence .2 scale 1.8 translate -1.1*y color_map { [0 rgb <.085,.09,.08>] [.35 rgb <.20,.195,.18>] [.9 rgb <.29,.275,.25>] [1 rgb <.3,.29,.26>] } } }
#declare RB=seed(5);
#for (i,0,8)
  #local XS=-66+i*13.5+7*rand(RB); #local W=5+5*rand(RB); #local HH=2.7+1.6*rand(RB); #local C=(<.30,.27,.235>*(.75+.35*rand(RB))+<.03,.035,.04>);
  box { <XS,.75,90> <XS+W,HH,94> pigment { granite scale <1.5,3,2> color_map { [0 rgb C*.8] [1 rgb C*1.1] } } }
  #for (k,0,2) box { <XS+.6+k*W/3,1.2,89.95> <XS+1.5+k*W/3,2.1,90.1> pigment { rgb <.09,.095,.1> } } #end
  mesh {
    triangle { <XS-.3,HH,89.6>,<XS+W+.3,HH,89.6>,<XS+W+.3,HH+1.5,92> } triangle { <XS-.3,HH,89.6>,<XS+W+.3,HH+1.5,92>,<XS-.3,HH+1.5,92> }
    pigment { granite scale <.8,4,4> color_map { [0 rgb <.21,.17,.15>*(.8+.5*rand(RB))] [1 rgb <.27,.215,.185>] } }
  }
#end
union { cylinder { <47,.7,92> <47,5.6,92>,.75 } cone { <47,5.6,92>,1 <47,6.8,92>,.3 } pigment { rgb <.6,.56,.5> } }

// ---- water: ripples of two winds and a slow swell -----------------------------------------------------------
#declare N1 = normal { bumps .32 scale <1.1,1.3,.34> translate <.52*T,.8*T,-.22*T> }
#declare N2 = normal { bumps .30 scale <.38,.7,.14> rotate 24*y translate <-.3*T,.75*T,.14*T> }
#declare N3 = normal { granite .10 scale <7,3,2.2> translate <.3*T,.3*T,0> }
plane { y,-1.1 clipped_by { plane { -z,-4 } } hollow
  texture {
    pigment { rgb <.018,.036,.036> }
    normal { average normal_map { [1.1 N1] [.9 N2] [1 N3] } }
    finish { diffuse 0 emission .55 reflection { .025, .95 fresnel on } conserve_energy }
  }
  interior { ior 1.33 }
}

#end

// ---- the quay -------------------------------------------------------------------------------------------------
#if (PART=0 | PART=5)
#declare Grain = function { pattern { granite scale .5 } };
#declare Blot  = function { pattern { bozo turbulence .8 octaves 5 lambda 2.3 scale 1.9 } };
#declare Wet   = function { pattern { bozo turbulence .55 octaves 4 scale <2.3,1,1.1> translate <4.1,0,2.2> } };
#macro Sett(I, K)   // one paving stone's own tone
  #local S=seed(900+I*37+K*11); #local B=.84+.3*rand(S);
  texture {
    pigment { function { .55*Grain(x,y,z)+.45*Blot(x,y,z) } color_map { [0 rgb <.115,.108,.098>*B] [.45 rgb <.20,.188,.168>*B] [.75 rgb <.27,.252,.222>*B] [1 rgb <.33,.31,.27>*B] } translate <rand(S)*9,0,rand(S)*9> }
    normal { average normal_map { [1 granite .22 scale .16] [.8 bumps .5 scale .02] } }
    finish { diffuse .78 specular .05 roughness .08 reflection { 0, .05 } }
  }
#end
#declare RG=seed(41);
#declare Z0=-7.4; #declare K=0;
#while (Z0<3.1)
  #local D=.27+.07*rand(RG);
  #local X0=-9-.7*rand(RG); #local I=0;
  #while (X0<9)
    #local W=.36+.5*rand(RG); #local Hh=.010*rand(RG); #local G=.006+.005*rand(RG);
    superellipsoid { <.13,.13> scale <W/2-G,.1,(D-.03*rand(RG))/2-G> rotate <1.6*(rand(RG)-.5),1.1*(rand(RG)-.5),1.8*(rand(RG)-.5)> translate <X0+W/2,-.1+Hh,Z0+D/2> Sett(I,K) }
    #local X0=X0+W; #local I=I+1;
  #end
  #declare Z0=Z0+D; #declare K=K+1;
#end
// what lies in the joints, and the damp places that shine
plane { y,-.012 clipped_by { plane { z,3.98 } } texture { pigment { granite scale .2 color_map { [0 rgb <.05,.047,.036>] [.6 rgb <.10,.094,.07>] [1 rgb <.085,.10,.05>] } } normal { bumps .8 scale .02 } } }
#macro Puddle(X,Z,RX,RZ,S)
  intersection {
    plane { y,.0035 }
    cylinder { <0,-.02,0> <0,.02,0>, 1 scale <RX*1.5,1,RZ*1.5> translate <X,0,Z> }
    texture {
      pigment_pattern { function { Wet(x+S,y,z)*1.25 - .45*(pow((x-X)/RX,2)+pow((z-Z)/RZ,2)) } }
      texture_map {
        [.16 pigment { rgbt 1 } finish { diffuse 0 } ]
        [.30 pigment { rgbt <.62,.60,.56,.40> } finish { diffuse .0 reflection { .0,.10 } } ]
        [.46 pigment { rgbt <.55,.53,.50,.38> } normal { bumps .004 scale .25 } finish { diffuse .1 reflection { .0,.42 fresnel off } specular .2 roughness .01 } ]
      }
    }
  }
#end
Puddle(-2.3,-2.2,1.5,.34,0) Puddle(2.6,-3.3,1.1,.24,3.7) Puddle(3.9,1.75,1.1,.26,8.1)
// coping stones along the edge, and the wall below
#declare X0=-10; #declare I=0;
#while (X0<10)
  #local W=1.35+.5*rand(RG);
  superellipsoid { <.05,.09> scale <W/2-.012,.26,.46> rotate <.5*(rand(RG)-.5),0,.5*(rand(RG)-.5)> translate <X0+W/2,-.215+.014*rand(RG),3.56> Sett(I,77) }
  #declare X0=X0+W; #declare I=I+1;
#end
box { <-20,-4,3.3> <20,-.2,3.95> texture { pigment { Stone2 } normal { granite .4 scale .4 } } }
#macro Bollard(X)
  lathe { cubic_spline 9, <.30,-.02>,<.27,0>,<.22,.05>,<.165,.16>,<.155,.36>,<.21,.45>,<.235,.50>,<.14,.56>,<0,.575> texture { Iron } translate <X,.03,3.42> }
  lathe { linear_spline 4, <.33,0>,<.33,.035>,<.25,.05>,<.2,.05> texture { Iron } translate <X,.02,3.42> }
#end
Bollard(-3.05) Bollard(3.0)
torus { .19,.026 texture { Hemp } rotate 4*x translate <-3.05,.37,3.42> } torus { .19,.026 texture { Hemp } rotate -3*x translate <3.0,.35,3.42> }
// a coil of rope, two fish boxes, an old tyre
#for (i,0,4) torus { .30-.011*i,.027 scale <1,.9,1> rotate <2*(i-2),i*40,1.5> texture { Hemp } translate <-2.28+.02*mod(i,2),.05+.047*i,2.7> } #end
torus { .17,.026 rotate <6,0,3> texture { Hemp } translate <-2.27,.26,2.7> }
sphere_sweep { b_spline 7, <-2.1,.04,2.35>,.026 <-2.0,.035,2.42>,.026 <-1.55,.035,2.3>,.026 <-1.2,.035,2.62>,.026 <-.8,.035,2.5>,.026 <-.62,.035,2.62>,.026 <-.5,.035,2.7>,.026 texture { Hemp } }
#macro Box_of(C, S)
  union {
    #local R=seed(S);
    #for (k,0,2) box { <-.42,.015+k*.088,-.27> <.42,.095+k*.088,-.25> } #end
    #for (k,0,2) box { <-.42,.015+k*.088,.25> <.42,.095+k*.088,.27> } #end
    #for (k,0,2) box { <-.43,.015+k*.088,-.26> <-.41,.095+k*.088,.26> } box { <.41,.015+k*.088,-.26> <.43,.095+k*.088,.26> } #end
    #for (e,-1,1,2) box { <e*.39-.03,0,-.285> <e*.39+.03,.28,-.24> } #end
    box { <-.41,.01,-.26> <.41,.03,.26> }
    texture { pigment { wood turbulence .1 scale .05 rotate 90*y color_map { [0 rgb C*.75] [.5 rgb C] [1 rgb C*.85] } } normal { granite .15 scale <.3,.02,.05> } finish { diffuse .75 } }
  }
#end
object { Box_of(<.36,.29,.2>,1) rotate 14*y translate <1.6,.01,2.75> }
object { Box_of(<.30,.26,.19>,2) rotate -5*y translate <1.66,.30,2.76> }
torus { .30,.105 rotate 82*x scale <1,1,1> pigment { rgb .022 } normal { bumps .3 scale .03 } finish { diffuse .7 specular .1 roughness .06 } translate <4.35,-.35,4.06> }

#end

// ---- the moored boat -----------------------------------------------------------------------------------------
#if (PART=4)
#declare BobY=.038*sin(2*pi*T/2.9)+.02*sin(2*pi*T/1.7+1); #declare BobZ=1.3*sin(2*pi*T/3.4+.6); #declare BobX=1.5*sin(2*pi*T/2.5+2);
#declare HullPaint = texture { pigment { granite scale <.8,.5,.8> color_map { [0 rgb <.045,.09,.105>] [.7 rgb <.06,.115,.13>] [1 rgb <.10,.15,.155>] } } normal { granite .06 scale <1,.1,1> } finish { diffuse .75 specular .2 roughness .03 } };
#declare Cream = texture { pigment { granite scale <.4,.7,.4> color_map { [0 rgb <.50,.47,.38>] [.6 rgb <.60,.57,.47>] [1 rgb <.66,.63,.54>] } } normal { granite .05 scale .1 } finish { diffuse .78 specular .1 } };
#declare Varnish = texture { pigment { wood turbulence .09 scale .05 rotate 89*y color_map { [0 rgb <.23,.115,.045>] [.6 rgb <.31,.165,.07>] [1 rgb <.17,.08,.03>] } } finish { diffuse .7 specular .3 roughness .02 reflection { 0,.1 } } };
#macro Half(U) (.98*sqrt(max(0,1-pow(max(0,(U-.35)/.65),2.2)))*(.86+.14*min(1,U/.2))) #end
#macro Sheer(U) (.62+.42*pow(U-.38,2)*1.9) #end
#declare Boat = union {
  mesh {
    #local N=46; #local M=7;
    #for (s,-1,1,2) #for (i,0,N-1) #for (j,0,M-1)
      #local P=array[4];
      #for (k,0,3)
        #local TT=(i+mod(k,2))/N; #local VV=(j+floor(k/2))/M;
        #local P[k]=<-3.2+6.4*TT, -.55+(Sheer(TT)+.55)*VV, s*Half(TT)*(.42+.58*pow(VV,.55))>;
      #end
      triangle { P[0],P[1],P[3] } triangle { P[0],P[3],P[2] }
    #end #end #end
    texture { HullPaint }
  }
  #for (s,-1,1,2)
    sphere_sweep { cubic_spline 12, #for (i,0,11) #local TT=min(1,max(0,(i-.5)/10*.999)); <-3.2+6.4*TT,Sheer(TT)+.005,s*Half(TT)>,.042 #end texture { Varnish } }
    sphere_sweep { cubic_spline 12, #for (i,0,11) #local TT=min(1,max(0,(i-.5)/10*.999)); <-3.2+6.4*TT,Sheer(TT)-.17,s*(Half(TT)+.004)>,.018 #end texture { Cream } }
  #end
  box { <-3.15,.42,-.8> <2.3,.47,.8> texture { Varnish } }
  box { <-3.2,-.5,-.84> <-3.14,.72,.84> texture { Varnish } }
  // wheelhouse
  difference {
    box { <-1.1,.45,-.62> <.75,1.72,.62> }
    box { <-1.02,.5,-.56> <.68,1.66,.56> }
    #for (i,0,2) box { <-.98+i*.58,1.12,-.8> <-.52+i*.58,1.55,.8> } #end
    box { <-2,1.12,-.48> <2,1.55,-.06> } box { <-2,1.12,.06> <2,1.55,.48> }
    texture { Cream }
  }
  #for (s,-1,1,2) box { <-.99,1.1,s*.59-.004> <.66,1.56,s*.59+.004> pigment { rgbt <.03,.04,.045,.55> } finish { diffuse .2 reflection { .04,.6 } specular .6 roughness .005 } } #end
  superellipsoid { <.1,.12> scale <1.06,.05,.74> translate <-.17,1.76,0> texture { Varnish } }
  cylinder { <.2,1.8,0> <.13,3.35,0>,.035 texture { Varnish } }
  cylinder { <-.5,2.75,0> <.8,2.82,0>,.02 texture { Varnish } }
  cylinder { <.13,3.2,0> <3.05,.98,0>,.007 pigment { rgb .03 } } cylinder { <.13,3.2,0> <-3.1,.85,0>,.007 pigment { rgb .03 } }
  torus { .17,.05 rotate 90*x translate <-.17,.82,-.665> pigment { radial frequency 4 color_map { [.5 rgb <.55,.5,.42>][.5 rgb <.42,.12,.05>] } rotate 90*x } }
  cylinder { <-1.9,.45,.1> <-1.9,.95,.1>,.1 texture { Iron } }
  superellipsoid { <.3,.2> scale <.38,.16,.5> translate <1.6,.6,0> pigment { granite scale .2 color_map { [0 rgb <.18,.17,.12>][1 rgb <.26,.24,.18>] } } normal { wrinkles .6 scale .12 } }
  rotate <BobX,0,BobZ> translate <.35,-.66+BobY,5.75>
};
Boat
#macro Line(A, B, Sag) sphere_sweep { cubic_spline 7, #for (i,-1,5) #local TT=i/4; A+(B-A)*TT-y*Sag*4*TT*(1-TT)*.5,.024 #end texture { Hemp } } #end
#macro OnBoat(P) (vrotate(P,<BobX,0,BobZ>)+<.35,-.66+BobY,5.75>) #end
Line(<-3.05,.36,3.55>, OnBoat(<-2.9,.8,-.7>), .10)
Line(<3.0,.36,3.55>, OnBoat(<2.75,1.0,-.45>), .12)

#end
// ---- light: low sun from the left, a wide sky, what the ground throws back -------------------------------------
#declare N = (PART=1 | PART=2 | PART=3 ? 3 : 5);
light_source { <-210,118,-95> rgb <1.0,.80,.55>*2.9 #if (PART!=4) Area(<9,0,0>,<0,9,0>,N) #end }
#if (QUICK | PART=4) light_source { <0,200,-50> rgb <.40,.50,.64>*.72 shadowless }
#else light_source { <0,260,-60> rgb <.40,.50,.64>*.92 area_light 560*x,560*z,N,N adaptive 1 jitter } #end
light_source { <-60,-80,-120> rgb <.20,.17,.13>*.9 shadowless }
light_source { <80,60,-160> rgb <.16,.18,.21>*.8 shadowless }
#if (PART=1) plane { y,0 pigment { rgb <.19,.18,.16> } no_image } #end
#if (PART=2 | PART=3) plane { y,.012 pigment { rgb .5 } finish { diffuse .6 } } #end

// ---- the intruder: a fork-lift truck with a closed cab -----------------------------------------------------------
#macro Paint(C) texture { pigment { granite scale <.6,.3,.6> color_map { [0 rgb C*.93] [.6 rgb C] [.9 rgb C*.97] [1 rgb C*.8+<.02,.015,.01>] } } normal { granite .03 scale .05 } finish { diffuse .75 specular .25 roughness .03 reflection { 0,.06 } } } #end
#if (TRUCK & PART!=3)
#declare Dark = texture { pigment { granite scale .1 color_map { [0 rgb .028] [1 rgb .06] } } finish { diffuse .7 specular .15 roughness .05 } };
#declare Steel = texture { pigment { granite scale .1 color_map { [0 rgb <.07,.065,.06>] [1 rgb <.16,.14,.12>] } } normal { granite .08 scale .05 } finish { diffuse .65 specular .35 roughness .04 } };
#if (TRUCK=1) #declare Col = <.46,.22,.035>; #else #declare Col = <.30,.05,.03>; #end
#macro Wheel(X,R,W)
  union {
    torus { R-.055,.055 rotate 90*x scale <1,1,W*9> texture { Dark } }
    cylinder { <0,0,-W/2> <0,0,W/2>,R-.05 texture { Dark } }
    cylinder { <0,0,-W/2-.012> <0,0,W/2+.012>,R*.55 Paint(<.4,.37,.32>) }
    #for (k,0,4) cylinder { <R*.34,0,-W/2-.03> <R*.34,0,W/2+.03>,.02 texture { Dark } rotate k*72*z } #end
    cylinder { <0,0,-W/2-.045> <0,0,W/2+.045>,.05 texture { Steel } }
    rotate -ROLL*z translate <X,R,0>
  }
#end
#declare Truck = union {
  // counterweight, chassis, hood
  intersection { superellipsoid { <.35,.35> scale <.46,.46,.5> translate <-.86,.62,0> } box { <-1.4,.3,-.6> <-.6,1.08,.6> } Paint(Col*.42) }
  superellipsoid { <.12,.12> scale <.78,.19,.48> translate <-.1,.46,0> Paint(Col*.9) }
  superellipsoid { <.2,.2> scale <.42,.2,.44> translate <-.62,.86,0> Paint(Col) }
  box { <.15,.3,-.5> <.5,.42,.5> texture { Dark } }
  #for (s,-1,1,2) difference { cylinder { <.62,.3,s*.4> <.62,.3,s*.56>,.36 } cylinder { <.62,.3,s*.3> <.62,.3,s*.7>,.315 } plane { y,.3 } Paint(Col) } #end
  // cab: posts, roof, dark glass
  #for (s,-1,1,2)
    cylinder { <.42,.6,s*.46> <.22,2.08,s*.44>,.032 texture { Dark } }
    cylinder { <-.78,.95,s*.46> <-.66,2.08,s*.44>,.032 texture { Dark } }
    cylinder { <.42,.68,s*.46> <-.2,.64,s*.47>,.03 texture { Dark } }
    box { <.22,1.42,s*.462-.006> <-.7,1.45,s*.462+.006> texture { Dark } }
    prism { linear_sweep linear_spline 0,.01,5, <.40,.66>,<.22,2.05>,<-.66,2.05>,<-.78,1.0>,<.40,.66> rotate -90*x translate z*(s*.45) pigment { rgbt <.012,.016,.018,.10> } finish { diffuse .3 specular .5 roughness .008 reflection { .03,.5 } } }
  #end
  prism { linear_sweep linear_spline -.43,.43,5, <.40,.66>,<.22,2.05>,<.2,2.05>,<.38,.66>,<.40,.66> rotate -90*x rotate 180*x scale <1,-1,1> pigment { rgbt <.012,.016,.018,.10> } finish { diffuse .3 specular .5 roughness .008 reflection { .03,.5 } } }
  superellipsoid { <.08,.2> scale <.56,.045,.53> translate <-.22,2.11,0> Paint(Col*.95) }
  cylinder { <-.55,2.15,.2> <-.55,2.25,.2>,.05 pigment { rgb <.5,.2,.02> } finish { specular .6 roughness .01 } }
  box { <-.7,1.0,-.4> <-.3,1.5,.4> texture { Dark } }
  // mast, carriage, forks
  #for (s,-1,1,2)
    box { <.80,.1,s*.3-.05> <.90,2.2,s*.3+.05> texture { Steel } }
    box { <.83,.12,s*.22-.03> <.91,2.05,s*.22+.03> texture { Dark } }
    cylinder { <.80,.9,s*.3> <.35,.62,s*.34>,.03 texture { Steel } }
    box { <.98,.16,s*.25-.06> <2.0,.205,s*.25+.06> texture { Steel } }
    box { <.95,.16,s*.25-.06> <1.0,.8,s*.25+.06> texture { Steel } }
  #end
  box { <.8,2.12,-.35> <.9,2.2,.35> texture { Steel } } box { <.8,1.1,-.35> <.88,1.18,.35> texture { Steel } } box { <.92,.35,-.45> <.97,.45,.45> texture { Steel } } box { <.92,.72,-.45> <.97,.8,.45> texture { Steel } }
  cylinder { <.86,.15,0> <.86,1.9,0>,.04 texture { Steel } }
  #if (TRUCK=1)
  // sacks on a pallet
  union {
    #for (i,0,2) box { <1.02,.21,-.48+i*.43> <1.98,.29,-.38+i*.43> } #end
    #for (i,0,6) box { <1.02+i*.14,.29,-.5> <1.12+i*.14,.315,.5> } #end
    pigment { wood turbulence .1 scale .05 rotate 90*y color_map { [0 rgb <.25,.18,.1>][1 rgb <.36,.27,.16>] } } }
  #local RS=seed(61);
  #for (k,0,3) #for (i,0,1) #for (j,0,1)
    superellipsoid { <.55,.45> scale <.26,.095,.27> rotate <4*(rand(RS)-.5),9*(rand(RS)-.5),7*(rand(RS)-.5)> translate <1.26+i*.48+.03*(rand(RS)-.5),.405+k*.165,-.25+j*.5>
      pigment { granite scale .25 color_map { [0 rgb <.30,.25,.17>*(.8+.3*rand(RS))][1 rgb <.43,.37,.27>*(.8+.3*rand(RS))] } } normal { wrinkles .5 scale .08 } }
  #end #end #end
  #end
  Wheel(.62,.31,.24) Wheel(-.85,.25,.2)
  #for (s,-1,1,2) union { Wheel(.62,.31,.2) translate z*s*.44 } union { Wheel(-.85,.25,.18) translate z*s*.4 } #end
  #if (TDIR<0) scale <-1,1,1> #end
  translate <TX,.012,TZ>
};
object { Truck #if (PART=2) no_image #end }
#end
